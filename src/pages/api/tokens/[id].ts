import { endpoint } from "../../../server/http/endpoint.ts";
import { withdrawToken } from "../../../server/services/tokens.ts";

export const DELETE = endpoint({ policy: "member", handle: ({ params, me }) => withdrawToken(me as string, params.id ?? "") });
