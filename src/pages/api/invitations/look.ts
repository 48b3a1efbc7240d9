import { lookAtInvitation as contract } from "../../../contracts/inviting.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtInvitation } from "../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ body, me }) => lookAtInvitation(me, body));
