import { evaluations } from "../../../contracts/programs.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { evaluateAll } from "../../../server/services/programs/authzen.ts";

export const POST = serve(evaluations, ({ body }) => evaluateAll(body));
