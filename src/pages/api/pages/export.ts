import { exportPages as contract } from "../../../contracts/pages.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportPages } from "../../../server/services/pages/exportPages.ts";

export const GET = serve(contract, ({ query, me }) => exportPages(me, query));
