import { readFindingsAround as contract } from "../../../../contracts/findings.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readFindingsAround } from "../../../../server/services/findings/passages.ts";

export const GET = serve(contract, ({ params, me }) => readFindingsAround(me, params.id));
