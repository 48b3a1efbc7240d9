import { listVersions as contract } from "../../../../../contracts/versions.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { listVersions } from "../../../../../server/services/versions/list.ts";

export const GET = serve(contract, ({ params, query, me }) => listVersions(me, params.id, query));
