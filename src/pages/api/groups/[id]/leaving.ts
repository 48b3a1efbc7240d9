import { leaveGroup as contract } from "../../../../contracts/people.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { leaveGroup } from "../../../../server/services/people/leaving.ts";

export const GET = serve(contract, ({ params, me }) => leaveGroup(me, params.id));
