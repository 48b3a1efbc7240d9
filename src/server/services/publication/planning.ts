/**
 * What a publication comes to, worked out before anything is done (lifecycle.md, "Before it goes live"): steps of edits,
 * each judged on what the one before leads to; their common ripple; what is in the way.
 */
import type { Preview } from "../../../contracts/change.ts";
import type { LookAtPublicationBody, RulesMade } from "../../../contracts/publication.ts";
import type { Refusal } from "../../../core/access/authority/index.ts";
import { editSentence } from "../../../core/access/explain/index.ts";
import {
  type AccessIndex,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  placeOf,
  spaceIdOf,
  subjectOf,
} from "../../../core/access/index/index.ts";
import { abilitiesIn, type Edit, principalKey, sameValue } from "../../../core/access/model/index.ts";
import { propose } from "../../../core/access/propose/index.ts";
import { ripple } from "../../../core/access/ripple/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { type Authors, completed } from "../../../core/lifecycle/index.ts";
import { hasWords } from "../../../core/words.ts";
import { type Access, goByWhatIs, goOnFrom, mayNot, readAccess } from "../../access/current.ts";
import { namesFor, subjectName } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { badRequest, notThere, Trouble } from "../../trouble.ts";
import { asksApproval, authorsOfVersion, isApprovedIn, noneAble } from "../approval/standing.ts";
import { type Planned, planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { besidesWords, whyNothing, wishesOf } from "../change/proposals.ts";
import type { OpenDraft } from "../workbench/opening.ts";
import { chosenVersion, publishEdits, UNAPPROVED } from "../writing/publishing.ts";

/** What is published: a page where it stands, or a private draft. */
export type Subject = { kind: "page"; place: CompiledPlace } | { kind: "draft"; open: OpenDraft; authors: Authors };

export interface PublicationPlan {
  /** The id it has, or gets. */
  page: string;
  /** Done before: a private draft is placed, a page that is scheduled moves. */
  first: Edit[];
  /** Done with the publication, the schedule or the placing. */
  then: Edit[];
  preview: Preview;
  rules: RulesMade | null;
  before: Access;
  /** What all of it leads to; and the same with the page live. */
  after: Access;
  asLive: AccessIndex;
  unapproved: boolean;
}

/** Helpers that are not kept are told by their keys; what is no key of theirs says nothing. */
const keeps = ({ keep }: LookAtPublicationBody, key: string): boolean => keep.includes(key);

/** Helpers of a private draft who are here and let in to something: what they get where it is placed. */
export const helpersOf = ({ helpers, access }: OpenDraft) =>
  helpers.flatMap(({ personId, abilities }) => {
    const subject = subjectOf(access.index, { person: personId });
    return subject && isActive(subject, access.at) ? [{ to: { person: personId }, abilities: abilitiesIn(abilities) }] : [];
  });

/** Owner, tags and readiness, where they are to be others. */
function marks(place: CompiledPlace, readiness: string | null, order: LookAtPublicationBody): Edit[] {
  const { id: at, owner = null, tags } = place.place;
  return [
    ...(order.owner !== undefined && order.owner !== owner ? [{ kind: "owner" as const, place: at, from: owner, to: order.owner }] : []),
    ...(order.tags && !sameValue(order.tags, tags) ? [{ kind: "tags" as const, place: at, from: tags, to: order.tags }] : []),
    ...(order.readiness !== undefined && (order.readiness || null) !== readiness
      ? [{ kind: "readiness" as const, place: at, from: readiness, to: order.readiness || null }]
      : []),
  ];
}

/** A page live with everything that comes with it: what its readers are judged by, and wishes about them. */
function live(index: AccessIndex, id: string): AccessIndex {
  const place = placeOf(index, id);
  if (!place || place.place.state === "live") return index;
  const edit: Edit = { kind: "state", place: id, from: { state: place.place.state }, to: { state: "live" } };
  const updated = update(index, completed(index, [edit]));
  return updated.ok ? updated.index : index;
}

/** The rules that achieve the wishes about its readers, judged on the page as it will be. */
function ruled(
  access: Access,
  me: CompiledSubject,
  asLive: AccessIndex,
  id: string,
  order: LookAtPublicationBody,
): { edits: Edit[]; rules: RulesMade | null } {
  if (order.wishes.length === 0) return { edits: [], rules: null };
  const proposal = propose(
    asLive,
    wishesOf(order.wishes).map((wish) => ({ ...wish, place: id })),
    access.at,
  );
  const names = namesFor(access, me);
  const [best] = proposal.candidates;
  const exceptions = proposal.exceptions.map((key) => subjectName({ ...access, index: asLive }, names, key));
  if (!best)
    return {
      edits: [],
      rules: {
        sentences: [],
        besides: "",
        exceptions,
        reason: proposal.alreadySo ? "" : whyNothing(access, me, asLive, proposal, { wishes: wishesOf(order.wishes) }),
      },
    };
  const sentences = best.edits.map((edit) => editSentence(edit, names));
  return { edits: best.edits, rules: { sentences, besides: besidesWords(best), exceptions, reason: "" } };
}

/** One step, judged by what is so, or by what the step before leads to; what refuses it outright is told, where one only looks. */
async function step(
  tx: Tx,
  { maker, reason, look, writesLive }: { maker: string; reason: string | undefined; look: boolean; writesLive: readonly string[] },
  edits: readonly Edit[],
): Promise<{ planned: Planned; outright: Refusal[] }> {
  const order = { maker, edits, writesLive, ...(reason === undefined ? {} : { reason }) };
  if (!look) return { planned: await planChange(tx, order), outright: [] };
  try {
    return { planned: await planChange(tx, order), outright: [] };
  } catch (error) {
    if (!(error instanceof Trouble) || error.status === 404) throw error;
    return { planned: await planChange(tx, { ...order, look: true }), outright: [{ code: "notAllowed", message: error.message }] };
  }
}

/** That a version lacks approval where it will stand: in the way, or lifted by a reason where nobody else could give it. */
async function approval(
  tx: Tx,
  after: Access,
  maker: string,
  { id, subject, order, reason }: { id: string; subject: Subject; order: LookAtPublicationBody; reason: string | undefined },
): Promise<{ unapproved: boolean; refusals: Refusal[] }> {
  const place = placeOf(after.index, id);
  if (!place || !(await asksApproval(tx, after.index, place))) return { unapproved: false, refusals: [] };
  const chosen = subject.kind === "page" ? (await chosenVersion(tx, id, order)).chosen : null;
  if (chosen && isApprovedIn(chosen, spaceIdOf(after.index, place))) return { unapproved: false, refusals: [] };
  if (order.what === "place" || order.what === "submit") return { unapproved: true, refusals: [] };
  const authors = subject.kind === "page" ? await authorsOfVersion(tx, id, spaceIdOf(after.index, place)) : subject.authors;
  const me = subjectOf(after.index, { person: maker });
  const alone = order.what === "live" && me !== undefined && noneAble(after, me, place, authors);
  if (alone && hasWords(reason ?? "")) return { unapproved: true, refusals: [] };
  const refusal: Refusal = alone
    ? { code: "reasonNeeded", message: "Nobody else could approve this: publishing it needs a reason." }
    : { code: "notAllowed", message: UNAPPROVED(order.version) };
  return { unapproved: true, refusals: [refusal] };
}

/** What scheduling asks for besides what the edits are judged by. */
function mayNotThen(then: Access, maker: string, page: string, { what, archive }: LookAtPublicationBody): Refusal[] {
  const place = placeOf(then.index, page);
  const me = subjectOf(then.index, { person: maker });
  if (!place || !me) return [];
  const acts = [...(what === "schedule" ? (["publish"] as const) : []), ...(archive ? (["retire"] as const) : [])];
  return acts.flatMap((act): Refusal[] => {
    const message = mayNot(then, me, act, place);
    return message === null ? [] : [{ code: "notAllowed", message }];
  });
}

function checkFits({ what, at, to, as }: LookAtPublicationBody, subject: Subject): void {
  if ((what === "schedule") !== (at !== undefined)) throw badRequest("Say when it goes live where that is scheduled, and only there.");
  if (subject.kind === "draft" && to === undefined) throw badRequest("Say where the draft is to stand.");
  if (subject.kind === "page" && as !== undefined) throw badRequest("What stands already stays what it is: a page, or a bulletin.");
  if (subject.kind === "page" && (what === "place" || what === "submit"))
    throw badRequest("It stands in a space already: publish it, or give it in for approval where it stands.");
}

/** The edits of its first step, and the index they lead to. */
function firstEdits(subject: Subject, order: LookAtPublicationBody, maker: string, id: string): Edit[] {
  if (subject.kind === "draft") return [{ kind: "start", place: id, parent: order.to ?? "", as: order.as ?? "page", owner: maker }];
  const { parent = "" } = subject.place.place;
  return order.to === undefined || order.to === parent ? [] : [{ kind: "move", place: id, from: parent, to: order.to }];
}

/** What becomes of helpers in the step that publishes, schedules or places. */
function helperEdits(subject: Subject, order: LookAtPublicationBody, id: string): Edit[] {
  if (subject.kind === "page") return [];
  const all = helpersOf(subject.open);
  if (order.what !== "live") return all.map((grant): Edit => ({ kind: "grant", place: id, put: { ...grant, draft: true } }));
  return all.filter(({ to }) => keeps(order, principalKey(to))).map((put): Edit => ({ kind: "grant", place: id, put }));
}

export interface PlanPublication {
  maker: string;
  subject: Subject;
  order: LookAtPublicationBody;
  readiness: string | null;
  reason?: string | undefined;
  look: boolean;
}

/** Works a publication out in a transaction; leaves nothing behind in it. */
export async function planPublication(
  tx: Tx,
  { maker, subject, order, readiness, reason, look }: PlanPublication,
): Promise<PublicationPlan> {
  checkFits(order, subject);
  const before = await readAccess(tx);
  const me = subjectOf(before.index, { person: maker });
  if (!me) throw notThere();
  const page = subject.kind === "page" ? subject.place.place.id : subject.open.draft.becomes;
  // Of a draft, and of what is scheduled elsewhere, the move is a step of its own; else all is one change.
  const moving = firstEdits(subject, order, maker, page);
  const apart = subject.kind === "draft" || order.what === "schedule";
  const first = apart ? moving : [];
  try {
    const refusals: Refusal[] = [];
    let access = before;
    const go = async (edits: readonly Edit[]) => {
      if (edits.length === 0) return;
      const { planned, outright } = await step(tx, { maker, reason, look, writesLive: order.what === "live" ? [page] : [] }, edits);
      refusals.push(...planned.verdict.refusals, ...outright);
      goOnFrom(tx, planned.after);
      access = { ...access, index: planned.after };
    };
    await go(first);
    const place = placeOf(access.index, page);
    if (!place) throw notThere();
    const common = [...(apart ? [] : moving), ...marks(place, readiness, order), ...helperEdits(subject, order, page)];
    const goesLive = order.what === "live" ? publishEdits(access, page, order.keep) : [];
    const staged = update(access.index, completed(access.index, [...common, ...goesLive]));
    const made = ruled(before, me, live(staged.ok ? staged.index : access.index, page), page, order);
    const then = [...common, ...made.edits];
    await go([...then, ...goesLive]);
    refusals.push(...mayNotThen({ ...before, index: access.index }, maker, page, order));
    const told = await approval(tx, access, maker, { id: page, subject, order, reason });
    const verdict = { refusals: [...refusals, ...told.refusals], steppingIn: false, ripple: ripple(before.index, access.index, before.at) };
    const edits = [...first, ...then, ...goesLive];
    const preview = previewOf({ access: before, me, edits, after: access.index, verdict, acts: null });
    if (made.rules?.reason) preview.refusals.push({ code: "notAllowed", message: made.rules.reason, title: "" });
    return {
      page,
      first,
      then,
      preview,
      rules: made.rules,
      before,
      after: access,
      asLive: live(access.index, page),
      unapproved: told.unapproved,
    };
  } finally {
    goByWhatIs(tx);
  }
}

/** Whether who reads it can be changed with the publication. */
export const mayWish = ({ after, page, before }: PublicationPlan, maker: string): boolean => {
  const place = placeOf(after.index, page);
  const me = subjectOf(after.index, { person: maker });
  return place !== undefined && me !== undefined && mayNot({ ...before, index: after.index }, me, "changeRules", place) === null;
};
