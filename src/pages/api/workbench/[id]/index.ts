import { readDraft as readContract, saveDraft as saveContract } from "../../../../contracts/workbench.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readDraft, saveDraft } from "../../../../server/services/workbench/writing.ts";

export const GET = serve(readContract, ({ params, me }) => readDraft(me, params.id));
export const POST = serve(saveContract, ({ params, body, me }) => saveDraft(me, params.id, body));
