import { readVersion as readContract, takeUpVersion as takeUpContract } from "../../../../../contracts/versions.ts";
import { serve } from "../../../../../server/http/endpoint.ts";
import { readVersion, takeUpVersion } from "../../../../../server/services/versions/version.ts";

export const GET = serve(readContract, ({ params, me }) => readVersion(me, params.id, params.version));
export const POST = serve(takeUpContract, ({ params, body, me }) => takeUpVersion(me, params.id, params.version, body));
