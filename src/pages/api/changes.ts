import { apply } from "../../contracts/change.ts";
import { serve } from "../../server/http/endpoint.ts";
import { applyChange } from "../../server/services/change/apply.ts";

export const POST = serve(apply, ({ body, me }) => applyChange(me, body));
