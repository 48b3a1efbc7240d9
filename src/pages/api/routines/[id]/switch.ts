import { switchRoutine as contract } from "../../../../contracts/routines.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { switchRoutine } from "../../../../server/services/routines/routines.ts";

export const POST = serve(contract, ({ params, body, me }) => switchRoutine(me, params.id, body));
