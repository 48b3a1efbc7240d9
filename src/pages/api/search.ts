import { search } from "../../contracts/search.ts";
import { serve } from "../../server/http/endpoint.ts";
import { searchPages } from "../../server/services/search/search.ts";

export const GET = serve(search, ({ query, me }) => searchPages(me || null, query.q, Number(query.page ?? 1)));
