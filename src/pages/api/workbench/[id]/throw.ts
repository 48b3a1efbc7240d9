import { throwDraft as contract } from "../../../../contracts/workbench.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { throwDraft } from "../../../../server/services/workbench/writing.ts";

export const POST = serve(contract, ({ params, body, me }) => throwDraft(me, params.id, body.act === "throw"));
