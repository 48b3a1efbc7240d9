/** Who may make which change (access-model.md, section 6a): what stands over all of them. The table for single acts is in `acts.ts`. */
import { ADMIT, GOVERN, NOTHING } from "./abilities.ts";
import { type AccessIndex, siteOf, subjectOf } from "./accessIndex.ts";
import { judgeAct } from "./acts.ts";
import { Sides } from "./compare.ts";
import { differencesOf } from "./differences.ts";
import { type Edit, isRuleEdit, placeOfEdit } from "./edits.ts";
import { givenSet } from "./evaluate.ts";
import { Judge, type Refusal, type Standing } from "./judge.ts";
import { linesOf, type Ripple, type RippleEntry, ripple } from "./ripple.ts";
import { update } from "./update.ts";

export interface Verdict {
  refusals: Refusal[];
  /** The change rests on oversight alone and gives its maker an ability: it is a stepping in. */
  steppingIn: boolean;
  ripple: Ripple;
}

/** Whether somebody holds an endless `govern` granted on the site (the last key). */
export function hasLastKey(index: AccessIndex): boolean {
  const keys = siteOf(index).grants.filter((grant) => grant.mask & GOVERN && grant.until === Number.POSITIVE_INFINITY);
  return index.subjects.some((subject) => subject.class === "members" && keys.some((key) => subject.matches.has(key.to)));
}

export interface Request {
  edits: readonly Edit[];
  /** Id of the person who makes the change. */
  maker: string;
  /** Milliseconds since the epoch. */
  at: number;
  /** Given where the change is a stepping in, or a site keeper overrides a pledge. */
  reason?: string;
  /** Ids of the groups whose members the maker manages without keeping the site. */
  manages?: ReadonlySet<string>;
}

/** What the rule edits among all edits do by themselves: to effective sets, and to what rules give where a state holds it back. */
function judgeOutcome(judge: Judge, after: AccessIndex, ruleEdits: readonly Edit[], whole: Ripple | null): RippleEntry[] {
  const { before, at, maker } = judge;
  const changed = whole ? after : rulesOnly(before, ruleEdits);
  if (!changed) return [];
  const entries = whole ? whole.entries : linesOf(differencesOf(new Sides(before, changed, at)));
  judge.outcome(entries, ({ set }) => set);
  // What waits behind a state today is opened by somebody else's act tomorrow: two changes, each harmless alone.
  if (!judge.keepsSite) {
    const held = linesOf(differencesOf(new Sides(before, changed, at, { statesAside: true })));
    judge.outcome(held, ({ place }) => (place ? givenSet(before, maker, place, at) : NOTHING));
  }
  return entries;
}

function rulesOnly(before: AccessIndex, edits: readonly Edit[]): AccessIndex | null {
  const updated = update(before, edits);
  return updated.ok ? updated.index : null;
}

/**
 * Judges a change before it is made: whether its maker may (section 6a), and its ripple (section 8). `after` must be
 * `before` with the edits made (`update`). An empty list of refusals means that it may be applied.
 */
export function judgeChange(before: AccessIndex, after: AccessIndex, request: Request): Verdict {
  const { edits, at } = request;
  const maker = subjectOf(before, { person: request.maker });
  const whole = ripple(before, after, at);
  if (!maker) return { refusals: [{ code: "notAllowed", message: "Nobody with this id is here." }], steppingIn: false, ripple: whole };
  const judge = new Judge(before, maker, at);
  const started = new Set(edits.flatMap((edit) => (edit.kind === "start" ? [edit.place] : [])));
  for (const edit of edits) judgeAct(judge, edit, { started, manages: request.manages ?? new Set() });

  const ruleEdits = edits.filter(isRuleEdit);
  const entries = ruleEdits.length === 0 ? [] : judgeOutcome(judge, after, ruleEdits, ruleEdits.length === edits.length ? whole : null);
  const steppingIn = ruleEdits.length > 0 && restsOnOversight(judge, ruleEdits, entries);
  if (steppingIn && !request.reason) {
    judge.refuse({
      code: "reasonNeeded",
      message: "This gives you an ability by oversight alone: it is a stepping in, and needs a reason.",
    });
  }
  if (hasLastKey(before) && !hasLastKey(after)) {
    judge.refuse({ code: "lastKey", message: "This would leave no active member who keeps the whole site without an end date." });
  }
  if (!(judge.keepsSite && request.reason)) {
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
function restsOnOversight(judge: Judge, edits: readonly Edit[], entries: readonly RippleEntry[]): boolean {
  const alone = ({ set, oversight }: Standing) => oversight && !(set & ADMIT);
  const edited = edits.some((edit) => {
    const id = placeOfEdit(edit);
    return id !== null && alone(judge.standing(id));
  });
  const own = entries.filter((entry) => entry.gains.length > 0 && entry.subjects.includes(judge.maker.key));
  return own.some((entry) => edited || entry.places.some((id) => alone(judge.standing(id))));
}
