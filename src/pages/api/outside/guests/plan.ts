import { planGuests as contract } from "../../../../contracts/guests.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { planGuests } from "../../../../server/services/outside/guestPlans.ts";

export const POST = serve(contract, ({ body, me }) => planGuests(me, body));
