import { readJoining as contract } from "../../../../contracts/leaving.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readJoining } from "../../../../server/services/people/sameAddress.ts";

export const GET = serve(contract, ({ params, query, me }) => readJoining(me, params.id, query.with));
