import { setFindingsAside as contract } from "../../../../contracts/findings.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { setFindingsAside } from "../../../../server/services/findings/aside.ts";

export const POST = serve(contract, ({ body, me }) => setFindingsAside(me, body));
