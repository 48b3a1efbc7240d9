import { NoQuery, TakeBackBody } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { notThere } from "../../../server/http/trouble.ts";
import { previewTakeBack, takeBack } from "../../../server/services/change.ts";

function numberOf(seq: string | undefined): number {
  if (!seq || !/^\d{1,15}$/.test(seq)) throw notThere();
  return Number(seq);
}

/** What taking the entry back would do. */
export const GET = endpoint({
  policy: "member",
  query: NoQuery,
  handle: async ({ params, me }) => previewTakeBack(me as string, numberOf(params.seq)),
});

export const POST = endpoint({
  policy: "member",
  body: TakeBackBody,
  handle: async ({ params, body, me }) => takeBack(me as string, numberOf(params.seq), body),
});
