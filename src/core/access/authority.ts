/** Who may make which change (access-model.md, section 6a): the table for single acts and what stands over all of them. */
import { type AbilitySet, ADD, ADMIT, abilitiesIn, DISCUSS, GOVERN, maskOf, NOTHING, PUBLISH, READ, RETIRE, REVISE } from "./abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, compile, placeOf, subjectOf } from "./compile.ts";
import { subjectKey } from "./document.ts";
import { applyEdits, type Edit, isRuleEdit } from "./edits.ts";
import { effectiveSet, hasOversight } from "./evaluate.ts";
import { type Ripple, ripple } from "./ripple.ts";

export type RefusalCode = "notAllowed" | "givesMoreThanHeld" | "onlyOverseers" | "lastKey" | "pledge" | "reasonNeeded";

export interface Refusal {
  code: RefusalCode;
  /** Place it is about, where there is one. */
  place?: string;
  /** A sentence without names of things: what is refused and why. */
  message: string;
  /** Pledge that would break. */
  pledge?: string;
}

export interface Verdict {
  refusals: Refusal[];
  /** The change rests on oversight alone and gives its maker an ability: it is a stepping in. */
  steppingIn: boolean;
  ripple: Ripple;
}

interface Standing {
  set: AbilitySet;
  oversight: boolean;
}

const HELPER_LIMIT = READ | DISCUSS | REVISE;

/** Whether somebody holds an endless `govern` granted on the site (the last key). */
export function hasLastKey(index: AccessIndex): boolean {
  const site = index.places[0] as CompiledPlace;
  const keys = site.grants.filter((grant) => grant.mask & GOVERN && grant.until === Number.POSITIVE_INFINITY);
  return index.subjects.some((subject) => subject.class === "members" && keys.some((key) => subject.matches.has(key.to)));
}

/** Whether a member oversees the site. */
export const isSiteKeeper = (index: AccessIndex, subject: CompiledSubject, at: number): boolean =>
  hasOversight(index, subject, index.places[0] as CompiledPlace, at);

class Judge {
  readonly refusals: Refusal[] = [];

  constructor(
    private readonly before: AccessIndex,
    private readonly maker: CompiledSubject,
    private readonly at: number,
  ) {}

  refuse(refusal: Refusal): void {
    const known = this.refusals.some((it) => it.code === refusal.code && it.place === refusal.place && it.pledge === refusal.pledge);
    if (!known) this.refusals.push(refusal);
  }

  standing(id: string): Standing & { place: CompiledPlace | undefined } {
    const place = placeOf(this.before, id);
    if (!place) return { set: NOTHING, oversight: false, place };
    return {
      set: effectiveSet(this.before, this.maker, place, this.at),
      oversight: hasOversight(this.before, this.maker, place, this.at),
      place,
    };
  }

  private owns(place: CompiledPlace | undefined): boolean {
    return place !== undefined && place.place.owner === this.maker.person?.id && this.maker.class === "members" && !this.maker.suspended;
  }

  /** The line of the table for one edit. */
  act(edit: Edit, started: ReadonlySet<string>): void {
    if (edit.kind === "start") {
      if (!(this.standing(edit.parent).set & ADD))
        this.refuse({ code: "notAllowed", place: edit.parent, message: "You may not add pages here." });
    } else if (started.has(edit.place)) {
      this.refuse({ code: "notAllowed", place: edit.place, message: "A page is started first and changed in a step of its own." });
    } else if (edit.kind === "state") this.stateChange(edit);
    else this.ruleChange(edit);
  }

  private ruleChange(edit: Exclude<Edit, { kind: "start" | "state" }>): void {
    const { set, oversight, place } = this.standing(edit.place);
    const mayAdmit = oversight || (set & ADMIT) !== 0;
    const helpers = edit.kind === "grant" && place?.unpublished === true && this.owns(place) && this.isHelperEdit(edit, set);
    if (!mayAdmit && !helpers) {
      this.refuse({
        code: "notAllowed",
        place: edit.place,
        message: "You may not change who has access here: that needs Keeper, or oversight.",
      });
    }
    if (edit.kind !== "grant" || !edit.put || oversight) return;
    const put = maskOf(edit.put.abilities);
    if (put & GOVERN)
      this.refuse({ code: "onlyOverseers", place: edit.place, message: "Only those with oversight of a place grant Keeper there." });
    const beyond = put & ~set & ~(edit.remove ? maskOf(edit.remove.abilities) : NOTHING);
    if (beyond) this.refuse({ code: "givesMoreThanHeld", place: edit.place, message: lacking(beyond) });
  }

  /** An owner lets named people into a draft, with no more than the owner holds (table, "let named people into …"). */
  private isHelperEdit(edit: Extract<Edit, { kind: "grant" }>, held: AbilitySet): boolean {
    return [edit.put, edit.remove].every(
      (grant) => !grant || (grant.draft === true && "person" in grant.to && !(maskOf(grant.abilities) & ~(HELPER_LIMIT & held))),
    );
  }

  private stateChange(edit: Extract<Edit, { kind: "state" }>): void {
    const { set, oversight, place } = this.standing(edit.place);
    const gone = (state: string) => state === "archived" || state === "binned";
    if (gone(edit.from.state) || gone(edit.to.state)) {
      const ownDraft = this.owns(place) && place?.unpublished === true;
      if (!oversight && !(set & RETIRE) && !ownDraft) {
        this.refuse({
          code: "notAllowed",
          place: edit.place,
          message: "You may not archive, bin or restore this: that needs Publisher, or oversight.",
        });
      }
      return;
    }
    const above = place?.place.parent === undefined ? NOTHING : this.standing(place.place.parent).set;
    const mayPublish = (set & PUBLISH) !== 0 || (place?.unpublished === true && this.owns(place) && (above & PUBLISH) !== 0);
    if (!mayPublish)
      this.refuse({ code: "notAllowed", place: edit.place, message: "You may not publish or take down this: that needs Publisher." });
  }

  /** Nobody gives what they lack: the test is on the outcome. */
  outcome(it: Ripple): void {
    for (const entry of it.entries) {
      const gains = maskOf(entry.gains);
      if (gains === NOTHING && entry.oversight !== "gained") continue;
      for (const id of entry.places) {
        const { set, oversight } = this.standing(id);
        if (oversight) continue;
        if (entry.oversight === "gained")
          this.refuse({ code: "onlyOverseers", place: id, message: "Only those with oversight give oversight." });
        if (gains & ~set) this.refuse({ code: "givesMoreThanHeld", place: id, message: lacking(gains & ~set) });
      }
    }
  }
}

const lacking = (abilities: AbilitySet): string =>
  `Nobody gives what they lack: you do not hold ${abilitiesIn(abilities).join(", ")} here.`;

export interface Request {
  edits: readonly Edit[];
  /** Id of the person who makes the change. */
  maker: string;
  /** Milliseconds since the epoch. */
  at: number;
  /** Given where the change is a stepping in, or a site keeper overrides a pledge. */
  reason?: string;
}

/**
 * Judges a change before it is made: whether its maker may (section 6a), and its ripple (section 8). `after` must be
 * `before` with the edits applied. An empty list of refusals means that it may be applied.
 */
export function judgeChange(before: AccessIndex, after: AccessIndex, request: Request): Verdict {
  const { edits, at } = request;
  const maker = subjectOf(before, { person: request.maker });
  const whole = ripple(before, after, at);
  if (!maker) return { refusals: [{ code: "notAllowed", message: "Nobody with this id is here." }], steppingIn: false, ripple: whole };
  const judge = new Judge(before, maker, at);
  const started = new Set(edits.flatMap((edit) => (edit.kind === "start" ? [edit.place] : [])));
  for (const edit of edits) judge.act(edit, started);

  const ruleEdits = edits.filter(isRuleEdit);
  const ofRules = ruleEdits.length === 0 ? null : ruleEdits.length === edits.length ? whole : rippleOf(before, ruleEdits, at);
  if (ofRules) judge.outcome(ofRules);
  const steppingIn = ofRules !== null && restsOnOversight(judge, ruleEdits, ofRules, request.maker);
  if (steppingIn && !request.reason) {
    judge.refuse({
      code: "reasonNeeded",
      message: "This gives you an ability by oversight alone: it is a stepping in, and needs a reason.",
    });
  }
  if (hasLastKey(before) && !hasLastKey(after)) {
    judge.refuse({ code: "lastKey", message: "This would leave no active member who keeps the whole site without an end date." });
  }
  const mayOverride = isSiteKeeper(before, maker, at) && request.reason;
  if (!mayOverride) {
    for (const { pledge, place } of whole.pledges.break) {
      judge.refuse({ code: "pledge", pledge, place, message: "This breaks a pledge. A site keeper can override it and say why." });
    }
  }
  return { refusals: judge.refusals, steppingIn, ripple: whole };
}

function rippleOf(before: AccessIndex, edits: readonly Edit[], at: number): Ripple | null {
  const applied = applyEdits(before.document, edits);
  return applied.ok ? ripple(before, compile(applied.document), at) : null;
}

function restsOnOversight(judge: Judge, edits: readonly Edit[], it: Ripple, maker: string): boolean {
  const byOversightAlone = edits.some((edit) => {
    const { set, oversight } = judge.standing(edit.place);
    return oversight && !(set & ADMIT);
  });
  const own = subjectKey({ person: maker });
  return byOversightAlone && it.entries.some((entry) => entry.gains.length > 0 && entry.subjects.includes(own));
}
