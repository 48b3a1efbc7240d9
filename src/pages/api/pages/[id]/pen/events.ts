import { watchPen as contract } from "../../../../../contracts/pen.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { streamOf } from "../../../../../server/live/stream.ts";
import { readPen } from "../../../../../server/services/pen/pen.ts";
import { changedMeanwhile } from "../../../../../server/trouble.ts";

export const GET = serve(contract, ({ params, query, me, context }) => {
  if (query.for !== me) throw changedMeanwhile("On this browser somebody else is signed in now.");
  return streamOf({ person: me, session: context.locals.session }, params.id, () => readPen(me, params.id));
});
