import { BufferBody, SpendingBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { dropBuffers, keepBuffer } from "../../../../server/services/buffers.ts";

export const POST = endpoint({
  policy: "signedIn",
  body: BufferBody,
  handle: ({ params, body, me }) => keepBuffer(me as string, params.id ?? "", body),
});

export const DELETE = endpoint({
  policy: "signedIn",
  body: SpendingBody,
  handle: ({ params, body, me }) => dropBuffers(me as string, params.id ?? "", body.spent),
});
