import { exportClasses as contract } from "../../../../contracts/programs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { exportClasses } from "../../../../server/services/programs/exports/access.ts";

export const GET = serve(contract, ({ query: { file, format, asOf } }) => exportClasses(file, format, asOf));
