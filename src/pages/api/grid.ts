import { readGrid as contract } from "../../contracts/grid.ts";
import { serve } from "../../server/http/endpoint.ts";
import { readGrid } from "../../server/services/grid/grid.ts";

const list = (text: string) => text.split(",").filter(Boolean);

export const GET = serve(contract, ({ query, me }) =>
  readGrid(me, {
    columns: list(query.columns ?? "public,guests,members").slice(0, 12),
    opened: list(query.open ?? ""),
    filter: query,
    at: query.at,
  }),
);
