import { stopJob as contract } from "../../../../contracts/jobs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { stopJob } from "../../../../server/services/jobs/jobs.ts";

export const POST = serve(contract, ({ params, me }) => stopJob(me, params.id));
