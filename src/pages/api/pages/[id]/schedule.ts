import { schedule, unschedule } from "../../../../contracts/writing.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { schedulePage, unschedulePage } from "../../../../server/services/writing/scheduling.ts";

export const POST = serve(schedule, ({ params, body, me }) => schedulePage(me, params.id, body));

export const DELETE = serve(unschedule, ({ params, query, me }) => unschedulePage(me, params.id, query.what));
