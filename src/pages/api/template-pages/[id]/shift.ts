import { shiftTemplatePage as contract } from "../../../../contracts/templates.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { shiftTemplatePage } from "../../../../server/services/templates/writing.ts";

export const POST = serve(contract, ({ params, body, me }) => shiftTemplatePage(me, params.id, body));
