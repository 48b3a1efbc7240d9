import { readNotice as contract } from "../../../../contracts/desk.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readNotice } from "../../../../server/services/desk/desk.ts";

export const POST = serve(contract, ({ params, me }) => readNotice(me, params.id));
