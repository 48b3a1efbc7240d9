import { reorder as contract } from "../../contracts/moving.ts";
import { serve } from "../../server/http/endpoint.ts";
import { reorder } from "../../server/services/moving/reorder.ts";

export const POST = serve(contract, ({ body, me }) => reorder(me, body));
