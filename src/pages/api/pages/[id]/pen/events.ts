import { watchPen as contract } from "../../../../../contracts/pen.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { streamOf } from "../../../../../server/live/stream.ts";
import { readPen } from "../../../../../server/services/pen/pen.ts";

export const GET = serve(contract, ({ params, me }) => streamOf(me, params.id, () => readPen(me, params.id)));
