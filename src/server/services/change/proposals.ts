/** From a wish in a cell to a change in the tray (access-model.md, section 12). */

import type { ProposalView, ProposedChange, WishBody } from "../../../contracts/change.ts";
import { editSentence, explanationText, principalName } from "../../../core/access/explain/index.ts";
import type { AccessIndex, CompiledSubject } from "../../../core/access/index/index.ts";
import { describeSet, type Edit, type Level, type Principal, principalKey, wishedSet } from "../../../core/access/model/index.ts";
import { type Candidate, type Proposal, propose, type Weight, type Wish } from "../../../core/access/propose/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { namesFor, subjectName } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { changedMeanwhile } from "../../trouble.ts";
import { checkActs } from "./plan.ts";

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

export function besidesWords({ unwishedGains, unwishedLosses }: Candidate): string {
  const gains = total(unwishedGains) > 0 ? `also gives something ${parts(unwishedGains)}` : "";
  const losses = total(unwishedLosses) > 0 ? `also takes something ${parts(unwishedLosses)}` : "";
  return [gains, losses].filter(Boolean).join("; ") || "touches nothing else";
}

/** Wishes as they travel, as the core knows them. */
export const wishesOf = (bodies: readonly WishBody[]): Wish[] =>
  bodies.map(({ principal, level, abilities }) => ({
    principal: principal as Principal,
    ...(abilities ? { abilities } : { level: level as Level }),
  }));

/** The best change for the same wishes at one or several places, judged on top of what waits in the tray, and up to two others. */
export const readProposal = (
  asker: string,
  places: readonly string[],
  wishes: readonly Wish[],
  waiting: readonly Edit[],
): Promise<ProposalView> =>
  whereItFits(
    "proposeHere",
    [asker, places, wishes, waiting],
    { edits: waiting, places: [...places], first: () => mayPropose(asker, places, waiting) },
    () => proposeHere(asker, places, wishes, waiting),
  );

/** Refuses whoever may not change rules at a place, or not what waits. */
async function mayPropose(asker: string, places: readonly string[], waiting: readonly Edit[]): Promise<void> {
  const access = await accessNow();
  const me = subjectFor(access, asker);
  for (const place of places.map((id) => seenPlace(access, me, id))) need(access, me, "changeRules", place);
  checkActs(access, me, waiting);
}

export async function proposeHere(
  asker: string,
  places: readonly string[],
  wishes: readonly Wish[],
  waiting: readonly Edit[],
): Promise<ProposalView> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    for (const place of places.map((id) => seenPlace(access, me, id))) need(access, me, "changeRules", place);
    // Whether what waits still fits tells what is there: that is for those who may make it.
    checkActs(access, me, waiting);
    const staged = update(access.index, waiting);
    if (!staged.ok) {
      const misfits = staged.conflicts.map(({ edit, message }) => ({ nth: waiting.indexOf(edit), message }));
      throw changedMeanwhile("What waits in the tray no longer fits. Look at it, then try again.", misfits);
    }
    const proposal = propose(
      staged.index,
      [...new Set(places)].flatMap((place) => wishes.map((wish) => ({ ...wish, place }))),
      access.at,
    );
    const names = namesFor(access, me);
    const view = (candidate: Candidate): ProposedChange => ({
      edits: candidate.edits,
      sentences: candidate.edits.map((edit) => editSentence(edit, names)),
      besides: besidesWords(candidate),
    });
    const [best, ...others] = proposal.candidates.map(view);
    return {
      best: best ?? null,
      others,
      exceptions: proposal.exceptions.map((key) => subjectName({ ...access, index: staged.index }, names, key)),
      alreadySo: proposal.alreadySo,
      reason: best || proposal.alreadySo ? "" : whyNothing(access, me, staged.index, proposal, { wishes, several: places.length > 1 }),
    };
  });
}

/** Why nothing achieves what was wished, in this order, at one place or at several. */
export function whyNothing(
  access: Access,
  me: CompiledSubject,
  index: AccessIndex,
  { obstacle }: Pick<Proposal, "obstacle">,
  { wishes = [], several = false }: { wishes?: readonly Wish[]; several?: boolean } = {},
): string {
  if (!obstacle) return "Everybody this names oversees the place, and keeps what that gives.";
  const names = namesFor(access, me);
  const who = subjectName({ ...access, index }, names, obstacle.subject);
  const text = explanationText(obstacle.explanation, who, names);
  const last = wishes.at(-1) ?? obstacle.wish;
  const isLast = principalKey(last.principal) === principalKey(obstacle.wish.principal);
  const whose = `${principalName(obstacle.wish.principal, names)} exactly ${describeSet(wishedSet(obstacle.wish))}`;
  if (isLast) return `No change of rules here gives ${whose}${several ? ` on ${names.place(obstacle.place)}` : ""}: ${text.answer}`;
  return `${principalName(last.principal, names)} at ${describeSet(wishedSet(last))} does not go together with what was wished here before, ${whose}: ${text.answer}`;
}
