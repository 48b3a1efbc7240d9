import { lookAtRoutine as contract } from "../../../contracts/routines.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtRoutine } from "../../../server/services/routines/routines.ts";

export const POST = serve(contract, ({ body, me }) => lookAtRoutine(me, body));
