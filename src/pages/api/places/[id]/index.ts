import { readSlip as contract } from "../../../../contracts/slip.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readSlip } from "../../../../server/services/slip/slip.ts";

export const GET = serve(contract, ({ params, query, me }) => readSlip(me, params.id, query.at));
