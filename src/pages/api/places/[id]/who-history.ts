import { readWhoHistory as contract } from "../../../../contracts/slip.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readWhoHistory } from "../../../../server/services/slip/whoHistory.ts";

export const GET = serve(contract, ({ params, me }) => readWhoHistory(me, params.id));
