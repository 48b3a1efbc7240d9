import { readPledge as contract } from "../../../contracts/pledges.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readPledge } from "../../../server/services/pledges/pledges.ts";

export const GET = serve(contract, ({ params, me }) => readPledge(me, params.id));
