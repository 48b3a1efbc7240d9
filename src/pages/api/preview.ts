import { PreviewBody } from "../../contracts/requests.ts";
import type { Edit } from "../../core/access/edits.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { previewChange } from "../../server/services/change.ts";

export const POST = endpoint({
  policy: "member",
  body: PreviewBody,
  handle: ({ body, me }) => previewChange(me as string, body.edits as Edit[], body.columns),
});
