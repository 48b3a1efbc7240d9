import { NoQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { readEverybody } from "../../server/services/grid.ts";

export const GET = endpoint({ policy: "member", query: NoQuery, handle: () => readEverybody() });
