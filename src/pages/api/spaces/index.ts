import { startSpace as contract } from "../../../contracts/spaces.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { startSpace } from "../../../server/services/spaces/startSpace.ts";

export const POST = serve(contract, ({ body, me }) => startSpace(me, body));
