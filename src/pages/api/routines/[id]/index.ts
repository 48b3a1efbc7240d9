import { changeRoutine as changeContract, removeRoutine as removeContract } from "../../../../contracts/routines.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { changeRoutine, removeRoutine } from "../../../../server/services/routines/routines.ts";

export const POST = serve(changeContract, ({ params, body, me }) => changeRoutine(me, params.id, body));
export const DELETE = serve(removeContract, ({ params, me }) => removeRoutine(me, params.id));
