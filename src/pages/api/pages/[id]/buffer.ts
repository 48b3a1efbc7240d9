import { dropBuffers as dropContract, keepBuffer as keepContract } from "../../../../contracts/writing.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { dropBuffers, keepBuffer } from "../../../../server/services/writing/buffers.ts";

export const POST = serve(keepContract, ({ params, body, me }) => keepBuffer(me, params.id, body));

export const DELETE = serve(dropContract, ({ params, body, me }) => dropBuffers(me, params.id, body.spent));
