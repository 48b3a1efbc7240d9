import { GridQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { readGrid } from "../../server/services/grid.ts";

export const GET = endpoint({
  policy: "member",
  query: GridQuery,
  handle: ({ query, me }) => readGrid(me as string, (query.columns ?? "public,guests,members").split(",").filter(Boolean).slice(0, 12)),
});
