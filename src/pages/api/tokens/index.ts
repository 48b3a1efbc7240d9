import { NoQuery, TokenBody } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { listTokens, makeToken } from "../../../server/services/tokens.ts";

export const GET = endpoint({ policy: "member", query: NoQuery, handle: ({ me }) => listTokens(me as string) });

export const POST = endpoint({ policy: "member", body: TokenBody, handle: ({ body, me }) => makeToken(me as string, body) });
