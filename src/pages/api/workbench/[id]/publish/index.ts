import { publishDraft as contract } from "../../../../../contracts/publication.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { publishDraft } from "../../../../../server/services/publication/publishing.ts";

export const POST = serve(contract, ({ params, body, me }) => publishDraft(me, params.id, body));
