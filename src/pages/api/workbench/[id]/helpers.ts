import { letHelperIn as contract } from "../../../../contracts/workbench.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { letHelperIn } from "../../../../server/services/workbench/helpers.ts";

export const POST = serve(contract, ({ params, body, me }) => letHelperIn(me, params.id, body));
