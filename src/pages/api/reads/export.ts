import { exportReads as contract } from "../../../contracts/reads.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { exportReads } from "../../../server/services/reads/reads.ts";

export const GET = serve(contract, ({ query, me }) => exportReads(me, query));
