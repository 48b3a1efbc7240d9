import { propose } from "../../contracts/change.ts";
import { serve } from "../../server/http/endpoint.ts";
import { readProposal, wishesOf } from "../../server/services/change/proposals.ts";

export const POST = serve(propose, ({ body, me }) =>
  readProposal(me, [body.place, ...(body.alsoAt ?? [])], wishesOf(body.wishes), body.edits),
);
