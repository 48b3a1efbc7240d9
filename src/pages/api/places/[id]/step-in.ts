import { stepIn as contract } from "../../../../contracts/slip.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { stepIn } from "../../../../server/services/slip/steppingIn.ts";

export const POST = serve(contract, ({ params, body, me }) => stepIn(me, params.id, body.reason));
