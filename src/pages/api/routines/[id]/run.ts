import { runRoutine as contract } from "../../../../contracts/routines.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { runRoutine } from "../../../../server/services/routines/running.ts";

export const POST = serve(contract, ({ params, body, me }) => runRoutine(me, params.id, body));
