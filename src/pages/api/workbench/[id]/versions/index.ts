import { listDraftVersions as contract } from "../../../../../contracts/workbench.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { listDraftVersions } from "../../../../../server/services/workbench/writing.ts";

export const GET = serve(contract, ({ params, query, me }) => listDraftVersions(me, params.id, query));
