import { readOutside as contract } from "../../../../contracts/outside.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readOutside } from "../../../../server/services/outside/publicPages.ts";

export const GET = serve(contract, ({ query, me }) => readOutside(me, query));
