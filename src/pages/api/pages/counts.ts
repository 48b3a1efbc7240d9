import { countPages as contract } from "../../../contracts/pages.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { countPages } from "../../../server/services/pages/pages.ts";

export const GET = serve(contract, ({ query, me }) => countPages(me, query));
