import { FullSearchQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { searchPages } from "../../server/services/search.ts";

export const GET = endpoint({
  policy: "anybody",
  query: FullSearchQuery,
  handle: ({ query, me }) => searchPages(me, query.q, Number(query.page ?? 1)),
});
