import { addTemplatePage as contract } from "../../../../contracts/templates.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { addTemplatePage } from "../../../../server/services/templates/writing.ts";

export const POST = serve(contract, ({ params, body, me }) => addTemplatePage(me, params.id, body));
