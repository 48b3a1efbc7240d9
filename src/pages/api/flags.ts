import { raiseFlag as contract } from "../../contracts/review.ts";
import { serve } from "../../server/http/endpoint.ts";
import { raiseFlag } from "../../server/services/review/settling.ts";

export const POST = serve(contract, ({ body, me }) => raiseFlag(me, body));
