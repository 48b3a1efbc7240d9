import { compareViewpoints as contract } from "../../../../contracts/outside.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { compareViewpoints } from "../../../../server/services/outside/compare.ts";

export const GET = serve(contract, ({ query, me }) => compareViewpoints(me, query));
