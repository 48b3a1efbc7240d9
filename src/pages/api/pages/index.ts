import { readPages as pagesContract } from "../../../contracts/pages.ts";
import { startPage as startContract } from "../../../contracts/writing.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readPages } from "../../../server/services/pages/pages.ts";
import { startOrdered } from "../../../server/services/templates/using.ts";

export const GET = serve(pagesContract, ({ query, me }) => readPages(me, query));
export const POST = serve(startContract, ({ body, me }) => startOrdered(me, body));
