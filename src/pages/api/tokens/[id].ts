import { withdrawToken as contract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { withdrawToken } from "../../../server/services/house/tokens.ts";

export const DELETE = serve(contract, ({ params, me }) => withdrawToken(me, params.id));
