import { readQueue as contract } from "../../../contracts/review.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readQueue } from "../../../server/services/review/queue.ts";

export const GET = serve(contract, ({ query, me }) => readQueue(me, query));
