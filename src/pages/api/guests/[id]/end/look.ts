import { lookAtEnd as contract } from "../../../../../contracts/inviting.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { lookAtEnd } from "../../../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ params, body, me }) => lookAtEnd(me, params.id, body.until));
