import { DocumentBody } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { planDocument } from "../../../server/services/exchange.ts";

export const POST = endpoint({ policy: "member", body: DocumentBody, handle: ({ body, me }) => planDocument(me as string, body.document) });
