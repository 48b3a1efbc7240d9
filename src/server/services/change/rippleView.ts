/** A ripple as it is shown: with names, the outside first, and places the asker cannot see counted instead of named. */

import type { RippleLine, RippleView } from "../../../contracts/change.ts";
import { abilityPhrase } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, placeOf, type SubjectClass } from "../../../core/access/index/index.ts";
import { type Ability, type AbilitySet, describeSet, maskOf } from "../../../core/access/model/index.ts";
import {
  countRipple,
  isEmptyRipple,
  type PlaceGroup,
  peopleOf,
  type Ripple,
  type RippleEntry,
  Union,
} from "../../../core/access/ripple/index.ts";
import { type Access, isKeeper } from "../../access/current.ts";
import { knowsOthersAt, knowsPlace, namesFor, subjectName } from "../../access/known.ts";
import { siteHmac } from "../../secrets.ts";

const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

const phrases = (abilities: readonly Ability[]): string[] => abilities.map(abilityPhrase);

/** "the public and 2 passes", "17 guests": so many of one class, the public among them or not. */
function whoOf(name: SubjectClass, count: number, withPublic: boolean): { words: string; many: boolean } {
  if (name !== "outsiders") return { words: plural(count, name.slice(0, -1)), many: count !== 1 };
  const passes = withPublic ? count - 1 : count;
  const words = [withPublic ? "the public" : "", passes > 0 ? plural(passes, "pass", "passes") : ""].filter(Boolean).join(" and ");
  return { words, many: count > 1 };
}

function summaryOf(it: Ripple): RippleView["summary"] {
  return countRipple(it).map((count) => {
    const entries = it.entries.filter((entry) => entry.class === count.class);
    const part = (picked: RippleEntry[], verb: string, people: number, places: number) => {
      if (picked.length === 0) return "";
      const withPublic = count.class === "outsiders" && picked.some(({ subjects }) => subjects.includes("public"));
      const { words, many } = whoOf(count.class, people, withPublic);
      return `${words} ${many ? verb : `${verb}s`} on ${plural(places, "place")}`;
    };
    const gains = part(
      entries.filter((entry) => entry.gains.length > 0 || entry.oversight === "gained"),
      "gain",
      count.gaining,
      count.gainedPlaces,
    );
    const losses = part(
      entries.filter((entry) => entry.losses.length > 0 || entry.oversight === "lost"),
      "lose",
      count.losing,
      count.lostPlaces,
    );
    return { class: count.class, text: [gains, losses].filter(Boolean).join("; ") };
  });
}

/** What of a ripple is told as one kind: everybody of a class to whom the same happens. */
interface Kind {
  line: RippleLine;
  entries: RippleEntry[];
  /** By number of a group, 1 where the line is about it. */
  groups: Uint8Array;
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
  private readonly told: Union;
  private readonly seen: Union;
  /** The asker is told of others everywhere. */
  private readonly allTold: boolean;
  private readonly words = once((set: AbilitySet) => describeSet(set));

  constructor(
    private readonly name: (subject: string) => string,
    private readonly title: (place: string) => string,
    /** The groups of places of the ripple, by number. */
    private readonly groups: readonly KnownGroup[],
  ) {
    this.told = new Union(groups.map(({ told }) => told));
    this.seen = new Union(groups.map(({ seen }) => seen));
    this.allTold = groups.every(({ seen, hidden }) => seen.length + hidden === 0);
  }

  add(entry: RippleEntry): void {
    const { groups } = this;
    const about = (part: "told" | "seen") => entry.groups.some((number) => (groups[number] as KnownGroup)[part].length > 0);
    if (about("told")) this.addPart(entry, 0, true);
    if (this.allTold) return;
    const hidden = entry.groups.reduce((sum, number) => sum + (groups[number] as KnownGroup).hidden, 0);
    if (hidden > 0 || about("seen")) this.addPart(entry, hidden, false);
  }

  private addPart(entry: RippleEntry, hidden: number, named: boolean): void {
    const key = JSON.stringify([entry.class, entry.gains, entry.losses, entry.oversight, named]);
    const kind = this.found.get(key) ?? this.begun(entry, named);
    this.found.set(key, kind);
    kind.entries.push(entry);
    for (const number of entry.groups) kind.groups[number] = 1;
    const { line } = kind;
    line.hidden = Math.max(line.hidden, hidden);
    // What is had there otherwise is told of places that the asker administers only.
    for (const [list, set] of [
      [line.before, entry.before],
      [line.after, entry.after],
    ] as const) {
      const words = named ? this.words(maskOf(set)) : "";
      if (words && !list.includes(words)) list.push(words);
    }
  }

  private begun({ class: of, gains, losses, oversight }: RippleEntry, named: boolean): Kind {
    const line: RippleLine = {
      class: of,
      who: "",
      names: [],
      unnamed: 0,
      places: 0,
      where: [],
      hidden: 0,
      before: [],
      after: [],
      gains: phrases(gains),
      losses: phrases(losses),
      oversight,
    };
    return { line, entries: [], groups: new Uint8Array(this.groups.length), named };
  }

  lines(): RippleLine[] {
    return [...this.found.values()].map(({ line, entries, groups, named }) => {
      const lists = peopleOf(entries);
      const count = lists.reduce((sum, { length }) => sum + length, 0);
      const places = (named ? this.told : this.seen).of(groups);
      return {
        ...line,
        who: whoOf(line.class, count, line.class === "outsiders" && lists.some((it) => it.includes("public"))).words,
        names: named ? firstOf(lists, MOST_NAMED).map(this.name) : [],
        unnamed: named ? Math.max(0, count - MOST_NAMED) : 0,
        places: places.length,
        where: places.slice(0, MOST_NAMED).map((id) => ({ id, title: this.title(id) })),
      };
    });
  }
}

/** So many names, and so many places, of one kind are listed; their number is told anyway. */
const MOST_NAMED = 200;

/** The first so many of what stands in lists, one after the other. */
function firstOf<T>(lists: readonly (readonly T[])[], most: number): T[] {
  const found: T[] = [];
  for (const list of lists) if (found.length < most) found.push(...list.slice(0, most - found.length));
  return found;
}

/** The first so many of a list that are as asked for. */
function firstThat<T>(list: readonly T[], fits: (it: T) => boolean, most: number): T[] {
  const found: T[] = [];
  for (const it of list) {
    if (found.length >= most) break;
    if (fits(it)) found.push(it);
  }
  return found;
}

/** A ripple cut down to places the asker may know of, for those who are told of a part of it only. */
function knownPart(it: Ripple, seen: (id: string) => boolean): Ripple {
  const places = it.places.map((group) => group.filter(seen));
  return {
    ...it,
    places,
    entries: it.entries.flatMap((entry) => {
      const groups = entry.groups.filter((number) => places[number]?.length);
      return groups.length > 0 ? [{ ...entry, groups }] : [];
    }),
    pledges: { ...it.pledges, break: it.pledges.break.filter(({ place }) => seen(place)) },
  };
}

/** Works out something only once, in however many entries it stands. */
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
 * others, people are. `onlyKnown`: what is about other places is left out. `allThere`: no place it is about is only begun.
 */
export function rippleView(access: Access, me: CompiledSubject, ripple: Ripple, { onlyKnown = false, allThere = false } = {}): RippleView {
  const names = namesFor(access, me);
  const seen = once((id: string) => knowsPlace(access, me, id));
  // Whoever keeps the site is told of others at every place that is there.
  const keeper = isKeeper(access, me);
  const told = keeper ? (id: string) => placeOf(access.index, id) !== undefined : once((id: string) => knowsOthersAt(access, me, id));
  const it = onlyKnown ? knownPart(ripple, seen) : ripple;
  const title = (id: string) => {
    const place = placeOf(access.index, id)?.place;
    return place?.kind === "site" ? "The site" : (place?.title ?? "");
  };
  const groups = it.places.map((group): KnownGroup => {
    const shown = keeper && allThere ? group : group.filter(told);
    const others = shown.length === group.length ? [] : group.filter((id) => !told(id));
    const rest = others.filter(seen);
    return { told: shown, seen: rest, hidden: others.length - rest.length };
  });
  const kinds = new Kinds((key) => subjectName(access, names, key), title, groups);
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
    closedToAll: firstThat(it.closedToAll, told, MOST_NAMED).map(title),
  };
}

/**
 * A short text that two ripples share exactly when they are the same: what was seen is what is applied. Keyed, so that
 * nobody can work out from it what they were not shown.
 */
export function fingerprint({ entries, ...rest }: Ripple): string {
  const hmac = siteHmac();
  // Entries share their subjects, and gain and lose what lies between before and after.
  const people = new Map(peopleOf(entries).map((subjects, number) => [subjects[0], { number, subjects }]));
  const lines = entries.map(({ subjects, groups, ...it }) => {
    return [it.class, people.get(subjects[0])?.number, maskOf(it.before), maskOf(it.after), it.oversight, groups.length];
  });
  hmac.update(JSON.stringify([rest, [...people.values()].map(({ subjects }) => subjects), lines]));
  // Of a large branch these are most of it, and as numbers soon taken in.
  const numbers = new Int32Array(entries.reduce((sum, { groups }) => sum + groups.length, 0));
  let at = 0;
  for (const { groups } of entries) {
    numbers.set(groups, at);
    at += groups.length;
  }
  hmac.update(numbers);
  return hmac.digest("hex").slice(0, 24);
}
