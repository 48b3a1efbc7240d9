import { readTurning as contract } from "../../../../contracts/leaving.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readTurning } from "../../../../server/services/leaving/turning.ts";

export const GET = serve(contract, ({ params, me }) => readTurning(me, params.id));
