import { exportEffective as contract } from "../../../../contracts/programs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { exportEffective } from "../../../../server/services/programs/exports/access.ts";
import type { Part } from "../../../../server/services/programs/exports/effective.ts";

export const GET = serve(contract, ({ query: { of, id, format, asOf } }) => exportEffective({ [of]: id } as Part, format, asOf));
