import { readOutbox as contract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readOutbox } from "../../../server/services/house/outbox.ts";

export const GET = serve(contract, ({ me }) => readOutbox(me));
