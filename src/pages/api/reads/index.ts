import { readReads as contract } from "../../../contracts/reads.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readReads } from "../../../server/services/reads/reads.ts";

export const GET = serve(contract, ({ query, me }) => readReads(me, query));
