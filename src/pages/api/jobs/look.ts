import { lookAtMany as contract } from "../../../contracts/jobs.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { lookAtMany } from "../../../server/services/jobs/jobs.ts";

export const POST = serve(contract, ({ body, me }) => lookAtMany(me, body.order));
