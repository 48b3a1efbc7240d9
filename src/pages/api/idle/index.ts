import { readIdle as contract } from "../../../contracts/idle.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readIdle } from "../../../server/services/idle/idle.ts";

export const GET = serve(contract, ({ query, me }) => readIdle(me, query));
