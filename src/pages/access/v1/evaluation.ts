import { EvaluationBody } from "../../../contracts/authzen.ts";
import { standard } from "../../../server/http/standard.ts";
import { evaluate } from "../../../server/services/authzen.ts";

export const POST = standard({ scope: "decisions", body: EvaluationBody, handle: ({ body }) => evaluate(body) });
