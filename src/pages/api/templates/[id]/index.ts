import { changeTemplate as contract } from "../../../../contracts/templates.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { changeTemplate } from "../../../../server/services/templates/templates.ts";

export const POST = serve(contract, ({ params, body, me }) => changeTemplate(me, params.id, body));
