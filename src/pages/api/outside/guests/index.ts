import { readGuests as contract } from "../../../../contracts/guests.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readGuests } from "../../../../server/services/outside/guests.ts";

export const GET = serve(contract, ({ query, me }) => readGuests(me, query));
