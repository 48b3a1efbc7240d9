import { letIn as contract } from "../../../../contracts/asked.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { letIn } from "../../../../server/services/asked/lettingIn.ts";

export const POST = serve(contract, ({ params, body, me }) => letIn(me, params.id, body));
