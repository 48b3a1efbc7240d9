import { countDesk as contract } from "../../../contracts/desk.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { countDesk } from "../../../server/services/desk/desk.ts";

export const GET = serve(contract, ({ me }) => countDesk(me));
