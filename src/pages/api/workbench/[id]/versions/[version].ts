import { readDraftVersion as readContract, takeUpDraftVersion as takeUpContract } from "../../../../../contracts/workbench.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { readDraftVersion, takeUpDraftVersion } from "../../../../../server/services/workbench/writing.ts";

export const GET = serve(readContract, ({ params, me }) => readDraftVersion(me, params.id, params.version));
export const POST = serve(takeUpContract, ({ params, body, me }) => takeUpDraftVersion(me, params.id, params.version, body));
