import { listRoutines as listContract, makeRoutine as makeContract } from "../../../contracts/routines.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { listRoutines, makeRoutine } from "../../../server/services/routines/routines.ts";

export const GET = serve(listContract, ({ me }) => listRoutines(me));
export const POST = serve(makeContract, ({ body, me }) => makeRoutine(me, body));
