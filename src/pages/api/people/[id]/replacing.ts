import { readReplacing as contract } from "../../../../contracts/leaving.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readReplacing } from "../../../../server/services/leaving/leaving.ts";

export const GET = serve(contract, ({ params, query, me }) => readReplacing(me, params.id, query.by));
