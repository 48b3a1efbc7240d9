import { exportIdle as contract } from "../../../contracts/idle.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportIdle } from "../../../server/services/idle/idle.ts";

export const GET = serve(contract, ({ query, me }) => exportIdle(me, query));
