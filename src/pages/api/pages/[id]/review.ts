import { readPageReview as contract } from "../../../../contracts/review.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readPageReview } from "../../../../server/services/review/pageReview.ts";

export const GET = serve(contract, ({ params, me }) => readPageReview(me, params.id));
