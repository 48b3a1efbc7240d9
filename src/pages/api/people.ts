import { PeopleQuery } from "../../contracts/requests.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { findPeople } from "../../server/services/people.ts";

export const GET = endpoint({ policy: "member", query: PeopleQuery, handle: ({ query }) => findPeople(query.q ?? "") });
