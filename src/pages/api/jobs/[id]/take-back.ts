import { takeBackJob as contract } from "../../../../contracts/jobs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { takeBackJob } from "../../../../server/services/jobs/jobs.ts";

export const POST = serve(contract, ({ params, me }) => takeBackJob(me, params.id));
