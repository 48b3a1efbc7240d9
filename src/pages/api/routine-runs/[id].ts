import { readRun as contract } from "../../../contracts/routines.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readRun } from "../../../server/services/routines/runs.ts";

export const GET = serve(contract, ({ params, query, me }) => readRun(me, params.id, query));
