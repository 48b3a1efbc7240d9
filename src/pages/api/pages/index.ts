import { startPage as contract } from "../../../contracts/writing.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { startPage } from "../../../server/services/writing/writing.ts";

export const POST = serve(contract, ({ body, me }) => startPage(me, body));
