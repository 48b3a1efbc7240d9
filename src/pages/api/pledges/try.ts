import { tryPledge as contract } from "../../../contracts/pledges.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { tryPledge } from "../../../server/services/pledges/pledges.ts";

export const POST = serve(contract, ({ body, me }) => tryPledge(me, body));
