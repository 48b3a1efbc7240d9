import { dropTemplateBuffers, keepTemplateBuffer } from "../../../../contracts/templates.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { writesTemplate } from "../../../../server/services/templates/writing.ts";
import { dropBuffers, keepBuffer } from "../../../../server/services/writing/buffers.ts";

export const POST = serve(keepTemplateBuffer, ({ params, body, me }) => keepBuffer(me, params.id, body, writesTemplate));
export const DELETE = serve(dropTemplateBuffers, ({ params, body, me }) => dropBuffers(me, params.id, body.spent, writesTemplate));
