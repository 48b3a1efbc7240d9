import { readGroups as contract } from "../../../contracts/people.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readGroups } from "../../../server/services/people/groups.ts";

export const GET = serve(contract, ({ me }) => readGroups(me));
