import { applyDocument as contract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { applyDocument } from "../../../server/services/house/exchange.ts";

export const POST = serve(contract, ({ body, me }) => applyDocument(me, body));
