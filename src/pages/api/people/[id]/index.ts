import { readPerson as contract } from "../../../../contracts/people.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readPerson } from "../../../../server/services/people/person.ts";

export const GET = serve(contract, ({ params, me }) => readPerson(me, params.id));
