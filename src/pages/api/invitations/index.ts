import { invite, readInvitations } from "../../../contracts/inviting.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readInvitations as read, invite as send } from "../../../server/services/inviting/inviting.ts";

export const GET = serve(readInvitations, ({ me }) => read(me));
export const POST = serve(invite, ({ body, me }) => send(me, body));
