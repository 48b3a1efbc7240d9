import { askForAccess as askContract, readAsked as readContract } from "../../../contracts/asked.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readAsked } from "../../../server/services/asked/asked.ts";
import { askForAccess } from "../../../server/services/asked/asking.ts";

export const GET = serve(readContract, ({ query, me }) => readAsked(me, query));
export const POST = serve(askContract, ({ body, me }) => askForAccess(me, body));
