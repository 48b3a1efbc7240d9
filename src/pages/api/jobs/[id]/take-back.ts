import { takeBackJob as contract } from "../../../../contracts/jobs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { takeBackJob } from "../../../../server/services/jobs/jobs.ts";

export const POST = serve(contract, ({ params, body, me }) => takeBackJob(me, params.id, body));
