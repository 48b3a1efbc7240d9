import { ApplyBody } from "../../contracts/requests.ts";
import type { Edit } from "../../core/access/edits.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { applyChange } from "../../server/services/change.ts";

export const POST = endpoint({
  policy: "member",
  body: ApplyBody,
  handle: ({ body, me }) => applyChange(me as string, { ...body, edits: body.edits as Edit[] }),
});
