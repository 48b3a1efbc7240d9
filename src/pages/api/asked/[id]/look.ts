import { lookAtLettingIn as contract } from "../../../../contracts/asked.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { lookAtLettingIn } from "../../../../server/services/asked/lettingIn.ts";

export const POST = serve(contract, ({ params, body, me }) => lookAtLettingIn(me, params.id, body));
