import { exportDocument as contract } from "../../../contracts/programs.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportDocument } from "../../../server/services/programs/exports/access.ts";

export const GET = serve(contract, ({ query }) => exportDocument(query.asOf));
