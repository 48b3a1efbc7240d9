import { lookAtLeaving as contract } from "../../../../../contracts/leaving.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { lookAtLeaving } from "../../../../../server/services/leaving/leaving.ts";

export const POST = serve(contract, ({ params, body, me }) => lookAtLeaving(me, params.id, body));
