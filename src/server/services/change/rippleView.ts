/** A ripple as it is shown: with names, the outside first, and places the asker cannot see counted instead of named. */

import { createHmac } from "node:crypto";
import type { RippleLine, RippleView } from "../../../contracts/change.ts";
import { abilityPhrase } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, placeOf, type SubjectClass } from "../../../core/access/index/index.ts";
import { type Ability, describeSet, maskOf } from "../../../core/access/model/index.ts";
import { countRipple, isEmptyRipple, type PlaceGroup, pack, type Ripple, type RippleEntry } from "../../../core/access/ripple/index.ts";
import type { Access } from "../../access/current.ts";
import { knowsOthersAt, knowsPlace, namesFor, subjectName } from "../../access/known.ts";

const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

const phrases = (abilities: readonly Ability[]): string[] => abilities.map(abilityPhrase);

/** "the public and 2 passes", "17 guests"; of the subjects of one class that a pick of entries names. */
function whoOf(name: SubjectClass, entries: readonly Pick<RippleEntry, "subjects">[]): { words: string; many: boolean } {
  const subjects = new Set(entries.flatMap((entry) => entry.subjects));
  if (name !== "outsiders") return { words: plural(subjects.size, name.slice(0, -1)), many: subjects.size !== 1 };
  const passes = [...subjects].filter((key) => key !== "public").length;
  const words = [subjects.has("public") ? "the public" : "", passes > 0 ? plural(passes, "pass", "passes") : ""]
    .filter(Boolean)
    .join(" and ");
  return { words, many: subjects.size > 1 };
}

function summaryOf(it: Ripple): RippleView["summary"] {
  return countRipple(it).map((count) => {
    const entries = it.entries.filter((entry) => entry.class === count.class);
    const part = (picked: RippleEntry[], verb: string, places: number) => {
      if (picked.length === 0) return "";
      const { words, many } = whoOf(count.class, picked);
      return `${words} ${many ? verb : `${verb}s`} on ${plural(places, "place")}`;
    };
    const gains = part(
      entries.filter((entry) => entry.gains.length > 0 || entry.oversight === "gained"),
      "gain",
      count.gainedPlaces,
    );
    const losses = part(
      entries.filter((entry) => entry.losses.length > 0 || entry.oversight === "lost"),
      "lose",
      count.lostPlaces,
    );
    return { class: count.class, text: [gains, losses].filter(Boolean).join("; ") };
  });
}

/** What of a ripple is told as one kind: everybody of a class to whom the same happens. */
interface Kind {
  line: RippleLine;
  subjects: Set<string>;
  groups: Set<PlaceGroup>;
  named: boolean;
}

/** A group of places as the asker may know it: where they are told of others, where not, and how many they cannot see. */
interface KnownGroup {
  told: PlaceGroup;
  seen: PlaceGroup;
  hidden: number;
}

/** Gathers entries into kinds. At places where the asker may not know others, people are counted and not named. */
class Kinds {
  private readonly found = new Map<string, Kind>();

  constructor(
    private readonly name: (subject: string) => string,
    private readonly title: (place: string) => string,
    private readonly knownOf: (group: PlaceGroup) => KnownGroup,
  ) {}

  add(entry: RippleEntry): void {
    const groups = entry.groups.map(this.knownOf);
    this.addPart(
      entry,
      groups.map(({ told }) => told),
      0,
      true,
    );
    const hidden = groups.reduce((sum, group) => sum + group.hidden, 0);
    this.addPart(
      entry,
      groups.map(({ seen }) => seen),
      hidden,
      false,
    );
  }

  private addPart(entry: RippleEntry, groups: readonly PlaceGroup[], hidden: number, named: boolean): void {
    if (hidden === 0 && groups.every((group) => group.length === 0)) return;
    const key = JSON.stringify([entry.class, entry.gains, entry.losses, entry.oversight, named]);
    const kind = this.found.get(key) ?? this.begun(entry, named);
    this.found.set(key, kind);
    for (const subject of entry.subjects) kind.subjects.add(subject);
    for (const group of groups) kind.groups.add(group);
    const { line } = kind;
    line.hidden = Math.max(line.hidden, hidden);
    // What is had there otherwise is told of places that the asker administers only.
    for (const [list, set] of [
      [line.before, entry.before],
      [line.after, entry.after],
    ] as const) {
      const words = named ? describeSet(maskOf(set)) : "";
      if (words && !list.includes(words)) list.push(words);
    }
  }

  private begun({ class: of, gains, losses, oversight }: RippleEntry, named: boolean): Kind {
    const line: RippleLine = {
      class: of,
      who: "",
      names: [],
      places: 0,
      where: [],
      hidden: 0,
      before: [],
      after: [],
      gains: phrases(gains),
      losses: phrases(losses),
      oversight,
    };
    return { line, subjects: new Set(), groups: new Set(), named };
  }

  lines(): RippleLine[] {
    return [...this.found.values()].map(({ line, subjects, groups, named }) => {
      const places = [...new Set([...groups].flat())];
      return {
        ...line,
        who: whoOf(line.class, [{ subjects: [...subjects] }]).words,
        names: named ? [...subjects].slice(0, MOST_NAMED).map(this.name) : [],
        places: places.length,
        where: places.slice(0, MOST_NAMED).map((id) => ({ id, title: this.title(id) })),
      };
    });
  }
}

/** So many names, and so many places, of one kind are listed; their number is told anyway. */
const MOST_NAMED = 500;

/** A ripple cut down to places the asker may know of, for those who are told of a part of it only. */
function knownPart(it: Ripple, seen: (id: string) => boolean): Ripple {
  const seenOf = once((group: PlaceGroup) => group.filter(seen));
  return {
    ...it,
    entries: it.entries.flatMap((entry) => {
      const groups = entry.groups.map(seenOf).filter(({ length }) => length > 0);
      return groups.length > 0 ? [{ ...entry, groups }] : [];
    }),
    pledges: { ...it.pledges, break: it.pledges.break.filter(({ place }) => seen(place)) },
  };
}

/** Works out something of a place, or a group of them, only once, in however many entries it stands. */
function once<A, T>(work: (of: A) => T): (of: A) => T {
  const known = new Map<A, T>();
  return (of) => {
    const made = known.get(of) ?? work(of);
    known.set(of, made);
    return made;
  };
}

/**
 * What a change would do, as this asker may know it: places they cannot see are counted, and where they may not know
 * others, people are. `onlyKnown`: what is about other places is left out.
 */
export function rippleView(access: Access, me: CompiledSubject, ripple: Ripple, { onlyKnown = false } = {}): RippleView {
  const names = namesFor(access, me);
  const seen = once((id: string) => knowsPlace(access, me, id));
  const told = once((id: string) => knowsOthersAt(access, me, id));
  const it = onlyKnown ? knownPart(ripple, seen) : ripple;
  const title = (id: string) => {
    const place = placeOf(access.index, id)?.place;
    return place?.kind === "site" ? "The site" : (place?.title ?? "");
  };
  const knownOf = once((group: PlaceGroup): KnownGroup => {
    const [shown, others] = [group.filter(told), group.filter((id) => !told(id))];
    const rest = others.filter(seen);
    return { told: shown, seen: rest, hidden: others.length - rest.length };
  });
  const kinds = new Kinds((key) => subjectName(access, names, key), title, knownOf);
  for (const entry of it.entries) kinds.add(entry);
  const pledges = new Map(access.index.document.pledges.map((pledge) => [pledge.id, pledge.why ?? pledge.id]));
  return {
    empty: isEmptyRipple(it),
    summary: summaryOf(it),
    lines: kinds.lines(),
    pledges: {
      breaks: it.pledges.break.slice(0, MOST_NAMED).map((violation) => ({
        pledge: violation.pledge,
        why: pledges.get(violation.pledge) ?? violation.pledge,
        witness: told(violation.place) ? subjectName(access, names, violation.subject) : "somebody",
        place: names.place(violation.place),
      })),
      mends: it.pledges.mend.map((id) => pledges.get(id) ?? id),
    },
    closedToAll: it.closedToAll.filter(told).slice(0, MOST_NAMED).map(title),
  };
}

/**
 * A short text that two ripples share exactly when they are the same: what was seen is what is applied. Keyed, so that
 * nobody can work out from it what they were not shown.
 */
export const fingerprint = (it: Ripple): string =>
  createHmac("sha256", process.env.TESORO_SECRET ?? "")
    .update(JSON.stringify(pack(it)))
    .digest("hex")
    .slice(0, 24);
