import { withdrawPass as contract } from "../../../../contracts/passes.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { withdrawPass } from "../../../../server/services/passes/passes.ts";

export const POST = serve(contract, ({ params, me }) => withdrawPass(me, params.id));
