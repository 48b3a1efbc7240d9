import { readJob as contract } from "../../../../contracts/jobs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { readJob } from "../../../../server/services/jobs/jobs.ts";

export const GET = serve(contract, ({ params, me }) => readJob(me, params.id));
