import { ProposalBody } from "../../contracts/requests.ts";
import type { Edit } from "../../core/access/edits.ts";
import type { Wish } from "../../core/access/wishes.ts";
import { endpoint } from "../../server/http/endpoint.ts";
import { readProposal } from "../../server/services/proposals.ts";

export const POST = endpoint({
  policy: "member",
  body: ProposalBody,
  handle: ({ body, me }) => readProposal(me as string, body.place, body.wishes as Wish[], body.edits as Edit[]),
});
