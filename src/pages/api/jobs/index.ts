import { listJobs as listContract, orderJob as orderContract } from "../../../contracts/jobs.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { listJobs, orderJob } from "../../../server/services/jobs/jobs.ts";

export const GET = serve(listContract, ({ query, me }) => listJobs(me, query));
export const POST = serve(orderContract, ({ body, me }) => orderJob(me, body));
