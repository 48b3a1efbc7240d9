import { compareWhy as contract } from "../../../../contracts/outside.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { compareWhy } from "../../../../server/services/outside/compare.ts";

export const GET = serve(contract, ({ query, me }) => compareWhy(me, query));
