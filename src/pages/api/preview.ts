import { preview } from "../../contracts/change.ts";
import { serve } from "../../server/http/endpoint.ts";
import { previewChange } from "../../server/services/change/preview.ts";

export const POST = serve(preview, ({ body, me }) => previewChange(me, body.edits, body.columns, body.acts));
