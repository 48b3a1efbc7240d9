/** Who may make which change (access-model.md, section 6a): what stands over all of them. The table for single acts is in `acts.ts`. */
import { hasWords } from "../../words.ts";

import { givenSet } from "../decide/index.ts";
import { type AccessIndex, siteOf, subjectOf } from "../index/index.ts";
import { ADMIT, type Edit, GOVERN, type Instant, isRuleEdit, NOTHING, placeOfEdit } from "../model/index.ts";
import { differencesOf, linesOf, placesOf, type Ripple, type RippleLines, ripple, Sides } from "../ripple/index.ts";
import { update } from "../update/index.ts";
import { type Guests, isMandated, judgeAct, type Managed } from "./editActs.ts";
import { Judge, type Refusal, type StandingThere } from "./judge.ts";

export interface Verdict {
  refusals: Refusal[];
  /** The change rests on oversight alone and gives its maker an ability: it is a stepping in. */
  steppingIn: boolean;
  ripple: Ripple;
}

/** Whether a member without an end holds an endless `govern` granted on the site (the last key). */
export function hasLastKey(index: AccessIndex): boolean {
  const keys = siteOf(index).grants.filter((grant) => grant.mask & GOVERN && grant.until === Number.POSITIVE_INFINITY);
  return index.subjects.some(
    (subject) =>
      subject.class === "members" && subject.activeUntil === Number.POSITIVE_INFINITY && keys.some((key) => subject.matches.has(key.to)),
  );
}

export interface Request {
  edits: readonly Edit[];
  /** Id of the person who makes the change; null: somebody who is not signed in. */
  maker: string | null;
  /** Milliseconds since the epoch. */
  at: Instant;
  /** Given where the change is a stepping in, or a site keeper overrides a pledge. */
  reason?: string;
  /** Groups whose members the maker manages without keeping the site. */
  manages?: Managed;
  /** What they may do about guests without keeping the site. */
  guests?: Guests;
  /** Edits that follow from an act by itself (lifecycle.md, "Branches"): not asked for, judged by their outcome only. */
  follows?: ReadonlySet<Edit>;
}

/** What the rule edits among all edits do by themselves: to effective sets, and to what rules give where a state holds it back. */
function judgeOutcome(judge: Judge, after: AccessIndex, ruleEdits: readonly Edit[], whole: Ripple | null): RippleLines {
  const { before, at, maker } = judge;
  const changed = whole ? after : rulesOnly(before, ruleEdits);
  if (!changed) return NO_LINES;
  const lines = whole ?? linesOf(differencesOf(new Sides(before, changed, at)));
  judge.outcome(lines, ({ set }) => set);
  // What waits behind a state today is opened by somebody else's act tomorrow: two changes, each harmless alone.
  if (!judge.keepsSite) {
    const held = linesOf(differencesOf(new Sides(before, changed, at, { statesAside: true })));
    judge.outcome(held, ({ place }) => (place ? givenSet(before, maker, place, at) : NOTHING));
  }
  return lines;
}

const NO_LINES: RippleLines = { places: [], entries: [] };

function rulesOnly(before: AccessIndex, edits: readonly Edit[]): AccessIndex | null {
  const updated = update(before, edits);
  return updated.ok ? updated.index : null;
}

const makerOf = (before: AccessIndex, { maker }: Request) => subjectOf(before, maker === null ? { public: true } : { person: maker });

/** What the maker of a change may not do at all, whatever the edits lead to and whether or not they still fit. */
export function refusedActs(before: AccessIndex, request: Request): Refusal[] {
  const maker = makerOf(before, request);
  if (!maker) return [NOBODY];
  const judge = new Judge(before, maker, request.at);
  judgeActs(judge, request);
  return judge.refusals;
}

const NOBODY: Refusal = { code: "notAllowed", message: "Nobody with this id is here." };

const NO_GUESTS: Guests = { allowed: false, mine: new Set() };

function judgeActs(judge: Judge, { edits, manages = new Map(), guests = NO_GUESTS, follows = new Set() }: Request): void {
  const grantedTo = new Map<string, string[]>();
  for (const edit of edits) {
    if (edit.kind !== "grant" || !edit.put || !("person" in edit.put.to)) continue;
    const { person } = edit.put.to;
    grantedTo.set(person, [...(grantedTo.get(person) ?? []), edit.place]);
  }
  const started = new Set(edits.flatMap((edit) => (edit.kind === "start" ? [edit.place] : [])));
  const inNewSpace = new Set<string>();
  for (const edit of edits) if (edit.kind === "start" && (edit.as === "space" || inNewSpace.has(edit.parent))) inNewSpace.add(edit.place);
  const moved = new Map(edits.flatMap((edit) => (edit.kind === "move" ? [[edit.place, edit.to] as const] : [])));
  const published = new Set(edits.flatMap((edit) => (edit.kind === "state" && edit.to.state === "live" ? [edit.place] : [])));
  const taken = edits.flatMap((edit) => (edit.kind === "grant" && edit.remove ? [edit] : []));
  for (const edit of edits) judgeAct(judge, edit, { taken, started, inNewSpace, moved, published, manages, guests, grantedTo, follows });
}

/**
 * Judges a change before it is made: whether its maker may (section 6a), and its ripple (section 8). `after` must be
 * `before` with the edits made (`update`). An empty list of refusals means that it may be applied.
 */
export function judgeChange(before: AccessIndex, after: AccessIndex, request: Request): Verdict {
  const { edits, at } = request;
  const maker = makerOf(before, request);
  const whole = ripple(before, after, at);
  if (!maker) return { refusals: [NOBODY], steppingIn: false, ripple: whole };
  const judge = new Judge(before, maker, at);
  judgeActs(judge, request);

  // For whom they add to a group they manage, the mandate stands in place of the outcome test; for all else it does not.
  const byMandate = (edit: Edit) => edit.kind === "member" && isMandated(judge, edit, request.manages ?? new Map());
  const ruleEdits = edits.filter((edit) => isRuleEdit(edit) && !byMandate(edit));
  const lines = ruleEdits.length === 0 ? NO_LINES : judgeOutcome(judge, after, ruleEdits, ruleEdits.length === edits.length ? whole : null);
  // Somebody's private drafts, taken over by whoever hands them over (6a, "Workbench").
  const takesDrafts = edits.some((edit) => edit.kind === "handOver" && edit.what === "drafts" && edit.to === request.maker);
  const steppingIn = takesDrafts || (ruleEdits.length > 0 && restsOnOversight(judge, ruleEdits, lines));
  const reasoned = hasWords(request.reason ?? "");
  if (steppingIn && !reasoned) {
    judge.refuse({
      code: "reasonNeeded",
      message: takesDrafts
        ? "This gives you somebody's private drafts: it is a stepping in, and needs a reason."
        : "This gives you an ability by oversight alone: it is a stepping in, and needs a reason.",
    });
  }
  if (hasLastKey(before) && !hasLastKey(after)) {
    judge.refuse({ code: "lastKey", message: "This would leave no active member who keeps the whole site without an end date." });
  }
  if (!(judge.keepsSite && reasoned)) {
    for (const { pledge, place } of whole.pledges.break) {
      judge.refuse({ code: "pledge", pledge, place, message: "This breaks a pledge. A site keeper can override it and say why." });
    }
  }
  return { refusals: judge.refusals, steppingIn, ripple: whole };
}

/**
 * Whether a change lets its own maker in by oversight alone: at a place where they oversee and lack `admit`, whether a
 * rule of that place is edited, one above it, or a group that one names.
 */
function restsOnOversight(judge: Judge, edits: readonly Edit[], lines: RippleLines): boolean {
  const alone = ({ set, oversight }: StandingThere) => oversight && !(set & ADMIT);
  const edited = edits.some((edit) => {
    const id = placeOfEdit(edit);
    return id !== null && alone(judge.standing(id));
  });
  const own = lines.entries.filter((entry) => entry.gains.length > 0 && entry.subjects.includes(judge.maker.key));
  return own.some((entry) => edited || placesOf(lines, entry).some((id) => alone(judge.standing(id))));
}
