import { makePass, readPasses } from "../../../contracts/passes.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { makePass as make, readPasses as read } from "../../../server/services/passes/passes.ts";

export const GET = serve(readPasses, ({ query, me }) => read(me, query.place));
export const POST = serve(makePass, ({ body, me }) => make(me, body));
