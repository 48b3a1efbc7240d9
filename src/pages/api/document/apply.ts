import { ApplyDocumentBody } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { applyDocument } from "../../../server/services/exchange.ts";

export const POST = endpoint({ policy: "member", body: ApplyDocumentBody, handle: ({ body, me }) => applyDocument(me as string, body) });
