import { goOnWithJob as contract } from "../../../../contracts/jobs.ts";
import { serve } from "../../../../server/http/endpoint.ts";
import { goOnWithJob } from "../../../../server/services/jobs/jobs.ts";

export const POST = serve(contract, ({ params, me }) => goOnWithJob(me, params.id));
