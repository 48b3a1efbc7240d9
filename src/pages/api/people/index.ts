import { findPeople as contract } from "../../../contracts/people.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { findPeople } from "../../../server/services/people/findPeople.ts";

export const GET = serve(contract, ({ query }) => findPeople(query.q ?? ""));
