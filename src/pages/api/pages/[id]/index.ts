import { readWorking as readContract, saveVersion as saveContract } from "../../../../contracts/writing.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readWorking, saveVersion } from "../../../../server/services/writing/writing.ts";

export const GET = serve(readContract, ({ params, me }) => readWorking(me, params.id));

export const POST = serve(saveContract, ({ params, body, me }) => saveVersion(me, params.id, body));
