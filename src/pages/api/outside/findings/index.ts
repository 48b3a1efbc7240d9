import { readFindings as contract } from "../../../../contracts/findings.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readFindings } from "../../../../server/services/findings/findings.ts";

export const GET = serve(contract, ({ query, me }) => readFindings(me, query));
