import { leave, readLeaving } from "../../../../../contracts/leaving.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { readLeaving as read, leave as seeOff } from "../../../../../server/services/leaving/leaving.ts";

export const GET = serve(readLeaving, ({ params, me }) => read(me, params.id));
export const POST = serve(leave, ({ params, body, me }) => seeOff(me, params.id, body));
