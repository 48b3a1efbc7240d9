/** Pledges: what must stay true about access, whether it does, where not, and what would mend it. */
import "reflect-metadata";
import type { Level, Pledge, Seq } from "../core/access/model/index.ts";
import { declare, json } from "./declare.ts";
import type { Named } from "./people.ts";
import { PledgeSaysBody } from "./peopleEdits.ts";

/** When a pledge broke or mended: by whose entry of the ledger, or (no entry) by the clock. */
export interface PledgeTurn {
  at: string;
  broken: boolean;
  entry: { seq: Seq; who: string; act: string } | null;
}

export interface PledgeRow {
  pledge: Pledge;
  /** "outsiders never read tagged patrol-route". */
  sentence: string;
  /** For how many pairs of somebody and a place it does not hold, and at how many places. */
  count: number;
  places: number;
  /** The newest first. */
  turns: PledgeTurn[];
}

export interface PledgeList {
  /** Broken ones first. */
  pledges: PledgeRow[];
}

/** A place at which a pledge does not hold. */
export interface PledgeWitness {
  place: Named;
  path: string[];
  /** For how many, and who the first of them are. */
  count: number;
  who: string[];
  /** Why that is so for the first. */
  steps: string[];
  /** What to wish for in order to mend it: somebody's level here; `pass`: the pass to withdraw; neither where no wish does. */
  mend: { column: string; name: string; level: Level } | { pass: string } | null;
}

export interface PledgeWitnesses {
  /** The first hundred places. */
  witnesses: PledgeWitness[];
  more: number;
}

/** What a pledge that is only thought of would come to. */
export interface PledgeTried extends PledgeWitnesses {
  sentence: string;
  count: number;
  places: number;
}

export const readPledges = declare({
  method: "GET",
  path: "/api/pledges",
  who: "member",
  says: "Every pledge, broken ones first, with when it broke and mended; for site keepers.",
  answer: json<PledgeList>("PledgeList"),
});

export const readPledge = declare({
  method: "GET",
  path: "/api/pledges/{id}",
  who: "member",
  says: "Where a pledge does not hold, for whom, why, and what would mend it; for site keepers.",
  answer: json<PledgeWitnesses>("PledgeWitnesses"),
});

export const tryPledge = declare({
  method: "POST",
  path: "/api/pledges/try",
  who: "member",
  says: "Whether a pledge would hold, and where not; nothing is kept. For site keepers.",
  body: PledgeSaysBody,
  answer: json<PledgeTried>("PledgeTried"),
});
