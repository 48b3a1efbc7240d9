import { lookAtDraftPublication as contract } from "../../../../../contracts/publication.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { lookAtDraftPublication } from "../../../../../server/services/publication/sheet.ts";

export const POST = serve(contract, ({ params, body, me }) => lookAtDraftPublication(me, params.id, body));
