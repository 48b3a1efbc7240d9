import { sendAgain as contract } from "../../../../contracts/inviting.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { sendAgain } from "../../../../server/services/inviting/inviting.ts";

export const POST = serve(contract, ({ params, me }) => sendAgain(me, params.id));
