import { lookAtPass as contract } from "../../../contracts/passes.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtPass } from "../../../server/services/passes/passes.ts";

export const POST = serve(contract, ({ body, me }) => lookAtPass(me, body));
