import { endInvitation as contract } from "../../../../contracts/inviting.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { endInvitation } from "../../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ params, me }) => endInvitation(me, params.id));
