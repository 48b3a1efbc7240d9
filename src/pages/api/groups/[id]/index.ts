import { readGroup as contract } from "../../../../contracts/people.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readGroup } from "../../../../server/services/people/groups.ts";

export const GET = serve(contract, ({ params, me }) => readGroup(me, params.id));
