import { erasePerson as contract } from "../../../../contracts/leaving.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { erasePerson } from "../../../../server/services/leaving/erasePerson.ts";

export const POST = serve(contract, ({ params, body, me }) => erasePerson(me, params.id, body));
