import { ENTRY_NUMBER } from "../../../contracts/checks.ts";
import { takeBack as contract, previewTakeBack as previewContract } from "../../../contracts/ledger.ts";
import type { Seq } from "../../../core/access/model/index.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { previewTakeBack, takeBack } from "../../../server/services/change/takeBack.ts";
import { notThere } from "../../../server/trouble.ts";

function numberOf(seq: string): Seq {
  if (!ENTRY_NUMBER.test(seq)) throw notThere();
  return Number(seq) as Seq;
}

export const GET = serve(previewContract, async ({ params, me }) => previewTakeBack(me, numberOf(params.seq)));

export const POST = serve(contract, async ({ params, body, me }) => takeBack(me, numberOf(params.seq), body));
