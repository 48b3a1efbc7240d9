import { settleReview as contract } from "../../../contracts/review.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { settleReview } from "../../../server/services/review/settling.ts";

export const POST = serve(contract, ({ body, me }) => settleReview(me, body));
