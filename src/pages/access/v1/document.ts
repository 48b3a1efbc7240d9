import { AsOfQuery } from "../../../contracts/requests.ts";
import { standard } from "../../../server/http/standard.ts";
import { exportDocument } from "../../../server/services/exports/access.ts";

export const GET = standard({ scope: "exports", query: AsOfQuery, handle: ({ query }) => exportDocument(query.asOf) });
