import { readWhy as contract } from "../../contracts/slip.ts";
import { serve } from "../../server/http/endpoint.ts";
import { readWhy } from "../../server/services/slip/why.ts";

export const GET = serve(contract, ({ query, me }) => readWhy(me, query));
