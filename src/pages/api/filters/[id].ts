import { deleteFilter as contract } from "../../../contracts/filters.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { deleteFilter } from "../../../server/services/pages/savedFilters.ts";

export const DELETE = serve(contract, ({ params, me }) => deleteFilter(me, params.id));
