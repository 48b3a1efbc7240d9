import { publish as contract } from "../../../../../contracts/publication.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { publishSeen } from "../../../../../server/services/publication/publishing.ts";

export const POST = serve(contract, ({ params, body, me }) => publishSeen(me, params.id, body));
