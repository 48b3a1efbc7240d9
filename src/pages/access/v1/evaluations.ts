import { EvaluationsBody } from "../../../contracts/authzen.ts";
import { standard } from "../../../server/http/standard.ts";
import { evaluateAll } from "../../../server/services/authzen.ts";

export const POST = standard({ scope: "decisions", body: EvaluationsBody, handle: ({ body }) => evaluateAll(body) });
