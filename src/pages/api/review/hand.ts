import { handFlags as contract } from "../../../contracts/review.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { handFlags } from "../../../server/services/review/settling.ts";

export const POST = serve(contract, ({ body, me }) => handFlags(me, body));
