/** From a wish in a cell to a change in the tray (access-model.md, section 12). */
import type { ProposalView, ProposedChange } from "../../contracts/answers.ts";
import { LEVELS } from "../../core/access/abilities.ts";
import { principalKey } from "../../core/access/document.ts";
import type { Edit } from "../../core/access/edits.ts";
import { type Candidate, propose, type Weight } from "../../core/access/propose.ts";
import { editSentence, explanationText, principalName } from "../../core/access/sentences.ts";
import { update } from "../../core/access/update.ts";
import type { Wish } from "../../core/access/wishes.ts";
import { readAccess, seenPlace, subjectFor } from "../access/current.ts";
import { inSnapshot } from "../db/client.ts";
import { changedMeanwhile, refused } from "../http/trouble.ts";
import { mayKnowOthers } from "./cells.ts";
import { namesFor, subjectName } from "./naming.ts";

const total = (weight: Weight): number => weight.outsiders + weight.guests + weight.members;

const ONE = { outsiders: "outsider", guests: "guest", members: "member" } as const;

/** "in 91 cases of a member at a place": pairs are counted, and said to be. */
const parts = (weight: Weight): string =>
  (["outsiders", "guests", "members"] as const)
    .filter((name) => weight[name] > 0)
    .map(
      (name) =>
        `in ${weight[name]} ${weight[name] === 1 ? "case" : "cases"} of ${ONE[name] === "outsider" ? "an" : "a"} ${ONE[name]} at a place`,
    )
    .join(", ");

function besides({ unwishedGains, unwishedLosses }: Candidate): string {
  const gains = total(unwishedGains) > 0 ? `also gives something ${parts(unwishedGains)}` : "";
  const losses = total(unwishedLosses) > 0 ? `also takes something ${parts(unwishedLosses)}` : "";
  return [gains, losses].filter(Boolean).join("; ") || "touches nothing else";
}

/** The best change for wishes at one place, judged on top of what waits in the tray, and up to two others. */
export async function readProposal(
  asker: string,
  placeId: string,
  wishes: readonly Wish[],
  waiting: readonly Edit[],
): Promise<ProposalView> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    if (!mayKnowOthers(access, me, place)) throw refused("You may not change who has access here: that needs Keeper, or oversight.");
    const staged = update(access.index, waiting);
    if (!staged.ok) throw changedMeanwhile("What waits in the tray no longer fits. Look at it, then try again.", staged.conflicts);
    const proposal = propose(
      staged.index,
      wishes.map((wish) => ({ ...wish, place: placeId })),
      access.at,
    );
    const names = namesFor(access, me);
    const view = (candidate: Candidate): ProposedChange => ({
      edits: candidate.edits,
      sentences: candidate.edits.map((edit) => editSentence(edit, names)),
      besides: besides(candidate),
    });
    const [best, ...others] = proposal.candidates.map(view);
    return {
      best: best ?? null,
      others,
      exceptions: proposal.exceptions.map((key) => subjectName({ ...access, index: staged.index }, names, key)),
      alreadySo: proposal.alreadySo,
      reason: best || proposal.alreadySo ? "" : reasonOf(),
    };

    function reasonOf(): string {
      const { obstacle } = proposal;
      if (!obstacle) return "Everybody this names oversees the place, and keeps what that gives.";
      const who = subjectName(access, names, obstacle.subject);
      const text = explanationText(obstacle.explanation, who, names);
      const last = wishes.at(-1) as Wish;
      const isLast = principalKey(last.principal) === principalKey(obstacle.wish.principal);
      const whose = `${principalName(obstacle.wish.principal, names)} exactly ${LEVELS[obstacle.wish.level]}`;
      if (isLast) return `No change of rules here gives ${whose}: ${text.answer}`;
      return `${principalName(last.principal, names)} at ${LEVELS[last.level]} does not go together with what was wished here before, ${whose}: ${text.answer}`;
    }
  });
}
