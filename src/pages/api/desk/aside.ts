import { setDeskAside as contract } from "../../../contracts/desk.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { setDeskAside } from "../../../server/services/desk/desk.ts";

export const POST = serve(contract, ({ body, me }) => setDeskAside(me, body));
