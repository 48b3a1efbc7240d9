import { readPledges as contract } from "../../../contracts/pledges.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readPledges } from "../../../server/services/pledges/pledges.ts";

export const GET = serve(contract, ({ me }) => readPledges(me));
