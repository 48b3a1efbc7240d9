import { beginDraft as beginContract, readWorkbench as readContract } from "../../../contracts/workbench.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { beginDraft } from "../../../server/services/workbench/beginning.ts";
import { readWorkbench } from "../../../server/services/workbench/bench.ts";

export const GET = serve(readContract, ({ me }) => readWorkbench(me));
export const POST = serve(beginContract, ({ body, me }) => beginDraft(me, body));
