import { evaluation } from "../../../contracts/programs.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { evaluate } from "../../../server/services/programs/authzen.ts";

export const POST = serve(evaluation, ({ body }) => evaluate(body));
