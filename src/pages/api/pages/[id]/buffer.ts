import { BufferBody } from "../../../../contracts/requests.ts";
import { endpoint } from "../../../../server/http/endpoint.ts";
import { keepBuffer } from "../../../../server/services/writing.ts";

export const POST = endpoint({
  policy: "signedIn",
  body: BufferBody,
  handle: ({ params, body, me }) => keepBuffer(me as string, params.id ?? "", body),
});
