import { answerApproval as contract } from "../../../../contracts/approval.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { answerApproval } from "../../../../server/services/approval/answering.ts";

export const POST = serve(contract, ({ params, body, me }) => answerApproval(me, params.id, body));
