import { compareGroups as contract } from "../../../../contracts/people.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { compareGroups } from "../../../../server/services/people/comparing.ts";

export const GET = serve(contract, ({ params, query, me }) => compareGroups(me, params.id, query.with));
