import { planDocument as contract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { planDocument } from "../../../server/services/house/exchange.ts";

export const POST = serve(contract, ({ body, me }) => planDocument(me, body.document));
