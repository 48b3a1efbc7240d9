import { listFilters as listContract, saveFilter as saveContract } from "../../../contracts/filters.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { listFilters, saveFilter } from "../../../server/services/pages/savedFilters.ts";

export const GET = serve(listContract, ({ me }) => listFilters(me));
export const POST = serve(saveContract, ({ body, me }) => saveFilter(me, body));
