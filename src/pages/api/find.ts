import { SearchQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { findPages } from "../../server/services/reading.ts";

export const GET = endpoint({ policy: "signedIn", query: SearchQuery, handle: ({ query, me }) => findPages(me as string, query.q) });
