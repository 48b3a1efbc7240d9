import { listTokens as listContract, makeToken as makeContract } from "../../../contracts/house.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { listTokens, makeToken } from "../../../server/services/house/tokens.ts";

export const GET = serve(listContract, ({ me }) => listTokens(me));

export const POST = serve(makeContract, ({ body, me }) => makeToken(me, body));
