import { lookAtPublication as contract } from "../../../../../contracts/publication.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { lookAtPublication } from "../../../../../server/services/publication/sheet.ts";

export const POST = serve(contract, ({ params, body, me }) => lookAtPublication(me, params.id, body));
