import { lookForFindings as contract } from "../../../../contracts/findings.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { lookForFindings } from "../../../../server/services/findings/looking.ts";

export const POST = serve(contract, ({ me }) => lookForFindings(me));
