import { exportCompared as contract } from "../../../../contracts/outside.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { exportCompared } from "../../../../server/services/outside/compare.ts";

export const GET = serve(contract, ({ query, me }) => exportCompared(me, query));
