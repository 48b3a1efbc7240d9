import { find } from "../../contracts/search.ts";
import { serve } from "../../server/http/endpoint.ts";
import { findPlaces } from "../../server/services/search/search.ts";

export const GET = serve(find, ({ query, me }) => findPlaces(me, query.q, query.in));
