import { decline as contract } from "../../../../contracts/asked.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { decline } from "../../../../server/services/asked/asked.ts";

export const POST = serve(contract, ({ params, body, me }) => decline(me, params.id, body));
