import { SearchQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { findPlaces } from "../../server/services/search.ts";

export const GET = endpoint({ policy: "signedIn", query: SearchQuery, handle: ({ query, me }) => findPlaces(me as string, query.q) });
