import { readWho as contract } from "../../../../contracts/slip.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readWho } from "../../../../server/services/slip/who.ts";

export const GET = serve(contract, ({ params, query, me }) => readWho(me, params.id, query));
