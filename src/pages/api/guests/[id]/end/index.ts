import { moveEnd as contract } from "../../../../../contracts/inviting.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { moveEnd } from "../../../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ params, body, me }) => moveEnd(me, params.id, body));
