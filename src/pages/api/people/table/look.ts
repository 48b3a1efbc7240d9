import { lookAtTable as contract } from "../../../../contracts/bringing.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { lookAtTable } from "../../../../server/services/bringing/bringing.ts";

export const POST = serve(contract, ({ body, me }) => lookAtTable(me, body));
