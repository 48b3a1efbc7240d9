import { copyPage as contract } from "../../../../contracts/life.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { copyPage } from "../../../../server/services/life/copying.ts";

export const POST = serve(contract, ({ params, body, me }) => copyPage(me, params.id, body));
