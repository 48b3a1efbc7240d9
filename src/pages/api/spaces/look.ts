import { lookAtSpace as contract } from "../../../contracts/spaces.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtSpace } from "../../../server/services/spaces/startSpace.ts";

export const POST = serve(contract, ({ body, me }) => lookAtSpace(me, body));
