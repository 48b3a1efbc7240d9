import { readGuest as contract } from "../../../../contracts/guests.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readGuest } from "../../../../server/services/outside/guestWays.ts";

export const GET = serve(contract, ({ params, me }) => readGuest(me, params.id));
