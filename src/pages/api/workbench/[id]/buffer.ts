import { dropDraftBuffers, keepDraftBuffer } from "../../../../contracts/workbench.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { writesDraft } from "../../../../server/services/workbench/opening.ts";
import { dropBuffers, keepBuffer } from "../../../../server/services/writing/buffers.ts";

export const POST = serve(keepDraftBuffer, ({ params, body, me }) => keepBuffer(me, params.id, body, writesDraft));
export const DELETE = serve(dropDraftBuffers, ({ params, body, me }) => dropBuffers(me, params.id, body.spent, writesDraft));
