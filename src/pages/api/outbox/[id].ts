import { readMail as contract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readMail } from "../../../server/services/house/outbox.ts";

export const GET = serve(contract, ({ params, me }) => readMail(me, params.id));
