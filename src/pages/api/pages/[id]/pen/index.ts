import { actOnPen as actContract, readPen as readContract } from "../../../../../contracts/pen.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { actOnPen, readPen } from "../../../../../server/services/pen/pen.ts";

export const GET = serve(readContract, ({ params, me }) => readPen(me, params.id));
export const POST = serve(actContract, ({ params, body, me }) => actOnPen(me, params.id, body.act));
