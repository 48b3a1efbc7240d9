import { lookAtContents as contract } from "../../../../contracts/contents.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { lookAtContents } from "../../../../server/services/spaces/contents.ts";

export const POST = serve(contract, ({ body, me, params }) => lookAtContents(me, params.id, body.contents));
