import { readDesk as contract } from "../../../contracts/desk.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readDesk } from "../../../server/services/desk/desk.ts";

export const GET = serve(contract, ({ me }) => readDesk(me));
