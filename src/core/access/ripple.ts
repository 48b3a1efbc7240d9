/** The ripple of a change: who gains and who loses what (access-model.md, section 8). */
import { type Ability, type AbilitySet, abilitiesIn, READ } from "./abilities.ts";
import { type AccessIndex, type CompiledSubject, placeOf, type SubjectClass, subjectOf } from "./compile.ts";
import { type Subject, subjectOfKey } from "./document.ts";
import { classKey, effectiveSet, hasOversight, ownersOfUnpublished } from "./evaluate.ts";
import { brokenPledges, type Violation } from "./pledges.ts";

/** One line of a ripple: these subjects, at these places, gain and lose exactly this. */
export interface RippleEntry {
  class: SubjectClass;
  /** Keys as `subjectKey` writes them. */
  subjects: string[];
  places: string[];
  before: Ability[];
  after: Ability[];
  gains: Ability[];
  losses: Ability[];
  oversight: "gained" | "lost" | "same";
}

export interface Ripple {
  /** Outsiders first, then guests, then members. */
  entries: RippleEntry[];
  passes: { start: string[]; stop: string[] };
  pledges: { break: Violation[]; mend: string[] };
  /** Places that somebody could open before and that nobody but overseers has anything at now. */
  closedToAll: string[];
}

export interface RippleCount {
  class: SubjectClass;
  gaining: number;
  losing: number;
  gainedPlaces: number;
  lostPlaces: number;
}

const ORDER: readonly SubjectClass[] = ["outsiders", "guests", "members"];

interface Pair {
  class: SubjectClass;
  before: CompiledSubject | undefined;
  after: CompiledSubject | undefined;
  keys: string[];
}

/** Subjects of both documents, gathered where neither document can tell them apart. */
function pairSubjects(before: AccessIndex, after: AccessIndex): Pair[] {
  const ownersBefore = ownersOfUnpublished(before);
  const ownersAfter = ownersOfUnpublished(after);
  const pairs = new Map<string, Pair>();
  const keys = new Set([...before.subjectNumbers.keys(), ...after.subjectNumbers.keys()]);
  for (const key of keys) {
    const subject: Subject = subjectOfKey(key);
    const was = subjectOf(before, subject);
    const is = subjectOf(after, subject);
    const text = `${was ? classKey(before, was, ownersBefore) : "-"}>${is ? classKey(after, is, ownersAfter) : "-"}`;
    const known = pairs.get(text);
    if (known) known.keys.push(key);
    else pairs.set(text, { class: (is ?? was)?.class ?? "members", before: was, after: is, keys: [key] });
  }
  return [...pairs.values()].sort((a, b) => ORDER.indexOf(a.class) - ORDER.indexOf(b.class));
}

const standingAt = (index: AccessIndex, subject: CompiledSubject | undefined, placeId: string, at: number) => {
  const place = placeOf(index, placeId);
  if (!subject || !place) return { set: 0, oversight: false };
  return { set: effectiveSet(index, subject, place, at), oversight: hasOversight(index, subject, place, at) };
};

/**
 * Compares two compiled documents over every subject and every place at one instant; exact, not sampled. A subject or
 * place that one of them lacks holds nothing there. Implements section 8.
 */
export function ripple(before: AccessIndex, after: AccessIndex, at: number): Ripple {
  const placeIds = [...new Set([...before.placeNumbers.keys(), ...after.placeNumbers.keys()])];
  const entries: RippleEntry[] = [];
  const passes: Ripple["passes"] = { start: [], stop: [] };
  const someoneBefore = new Set<string>();
  const someoneAfter = new Set<string>();
  for (const pair of pairSubjects(before, after)) {
    const lines = new Map<string, RippleEntry>();
    for (const id of placeIds) {
      const was = standingAt(before, pair.before, id, at);
      const is = standingAt(after, pair.after, id, at);
      if (was.set) someoneBefore.add(id);
      if (is.set) someoneAfter.add(id);
      if (was.set === is.set && was.oversight === is.oversight) continue;
      const text = `${was.set}>${is.set}>${was.oversight}>${is.oversight}`;
      const line = lines.get(text) ?? entryOf(pair, was, is);
      line.places.push(id);
      lines.set(text, line);
    }
    entries.push(...lines.values());
    const pass = pair.after?.pass ?? pair.before?.pass;
    if (pass) notePass(passes, before, after, pair, pass.place, pass.id, at);
  }
  const broken = { before: brokenPledges(before, at), after: brokenPledges(after, at) };
  return {
    entries,
    passes,
    pledges: comparePledges(broken.before, broken.after),
    closedToAll: [...someoneBefore].filter((id) => !someoneAfter.has(id) && after.placeNumbers.has(id)),
  };
}

function entryOf(pair: Pair, was: { set: AbilitySet; oversight: boolean }, is: { set: AbilitySet; oversight: boolean }): RippleEntry {
  return {
    class: pair.class,
    subjects: pair.keys,
    places: [],
    before: abilitiesIn(was.set),
    after: abilitiesIn(is.set),
    gains: abilitiesIn(is.set & ~was.set),
    losses: abilitiesIn(was.set & ~is.set),
    oversight: was.oversight === is.oversight ? "same" : is.oversight ? "gained" : "lost",
  };
}

function notePass(
  passes: Ripple["passes"],
  before: AccessIndex,
  after: AccessIndex,
  pair: Pair,
  place: string,
  id: string,
  at: number,
): void {
  const worked = (standingAt(before, pair.before, place, at).set & READ) !== 0;
  const works = (standingAt(after, pair.after, place, at).set & READ) !== 0;
  if (works && !worked) passes.start.push(id);
  if (worked && !works) passes.stop.push(id);
}

const violationKey = (violation: Violation): string => `${violation.pledge}|${violation.subject}|${violation.place}`;

/** Any new violation counts as breaking, of a pledge already broken too; a pledge mends when its last violation goes (section 6a). */
function comparePledges(before: Violation[], after: Violation[]): Ripple["pledges"] {
  const known = new Set(before.map(violationKey));
  const stillBroken = new Set(after.map((violation) => violation.pledge));
  const mended = new Set(before.map((violation) => violation.pledge).filter((id) => !stillBroken.has(id)));
  return { break: after.filter((violation) => !known.has(violationKey(violation))), mend: [...mended] };
}

export const isEmptyRipple = (it: Ripple): boolean =>
  it.entries.length === 0 && it.pledges.break.length === 0 && it.pledges.mend.length === 0;

/** Numbers of subjects and places of each class that gain or lose something; classes with neither are left out. */
export function countRipple(it: Ripple): RippleCount[] {
  return ORDER.flatMap((name) => {
    const entries = it.entries.filter((entry) => entry.class === name);
    if (entries.length === 0) return [];
    const distinct = (pick: (entry: RippleEntry) => boolean, of: "subjects" | "places") =>
      new Set(entries.filter(pick).flatMap((entry) => entry[of])).size;
    const gains = (entry: RippleEntry) => entry.gains.length > 0 || entry.oversight === "gained";
    const loses = (entry: RippleEntry) => entry.losses.length > 0 || entry.oversight === "lost";
    return [
      {
        class: name,
        gaining: distinct(gains, "subjects"),
        losing: distinct(loses, "subjects"),
        gainedPlaces: distinct(gains, "places"),
        lostPlaces: distinct(loses, "places"),
      },
    ];
  });
}
