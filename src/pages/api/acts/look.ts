import { lookAtAct as contract } from "../../../contracts/life.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtAct } from "../../../server/services/life/sheet.ts";

export const POST = serve(contract, ({ body, me }) => lookAtAct(me, body.act));
