import { readPeople as contract } from "../../../contracts/people.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readPeople } from "../../../server/services/people/table.ts";

export const GET = serve(contract, ({ query, me }) => readPeople(me, query));
