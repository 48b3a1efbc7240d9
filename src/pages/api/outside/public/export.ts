import { exportOutside as contract } from "../../../../contracts/outside.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { exportOutside } from "../../../../server/services/outside/publicPages.ts";

export const GET = serve(contract, ({ query, me }) => exportOutside(me, query));
