import { GridQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { readGrid } from "../../server/services/grid.ts";

export const GET = endpoint({
  policy: "member",
  query: GridQuery,
  handle: ({ query, me }) => {
    const list = (text: string) => text.split(",").filter(Boolean);
    return readGrid(me as string, list(query.columns ?? "public,guests,members").slice(0, 12), list(query.open ?? ""));
  },
});
