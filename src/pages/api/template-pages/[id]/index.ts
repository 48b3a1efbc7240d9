import {
  readTemplatePage as readContract,
  removeTemplatePage as removeContract,
  saveTemplatePage as saveContract,
} from "../../../../contracts/templates.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readTemplatePage, removeTemplatePage, saveTemplatePage } from "../../../../server/services/templates/writing.ts";

export const GET = serve(readContract, ({ params, me }) => readTemplatePage(me, params.id));
export const POST = serve(saveContract, ({ params, body, me }) => saveTemplatePage(me, params.id, body));
export const DELETE = serve(removeContract, ({ params, me }) => removeTemplatePage(me, params.id));
