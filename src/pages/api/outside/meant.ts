import { meanOutside as contract } from "../../../contracts/outside.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { meanOutside } from "../../../server/services/outside/publicPages.ts";

export const POST = serve(contract, ({ body, me }) => meanOutside(me, body));
