/**
 * The effective access row by row: one line for each subject and place of a part of the site where there is something.
 * What a line says of its rules is put into words once for each class of subjects and row of places, so that millions of
 * lines are mostly joined from parts; none of them is held once it is sent.
 */

import { type Cell, decide, PASS_CLASS, rowOfPlace, SET_OF_CELL } from "../../../../core/access/decide/index.ts";
import { cellWords, grantSentence, type Names, type Source, sourcesOf } from "../../../../core/access/explain/index.ts";
import {
  type AccessIndex,
  below,
  type CompiledPlace,
  type CompiledSubject,
  pathOf,
  placeOf,
  subjectOf,
} from "../../../../core/access/index/index.ts";
import { grantKey, type Instant } from "../../../../core/access/model/index.ts";
import { badRequest, notThere } from "../../../trouble.ts";

/** What part of the site: everybody in a space or a subtree, or one person everywhere. */
export type Part = { space: string } | { subtree: string } | { person: string };

export const EFFECTIVE_COLUMNS = [
  "who",
  "name",
  "kind",
  "place",
  "title",
  "path",
  "state",
  "level",
  "abilities",
  "oversight",
  "through",
  "since",
] as const;

/** A line in three parts that repeat: who, where, and what through which rule. */
export interface EffectiveLine {
  who: readonly string[];
  where: readonly string[];
  what: readonly string[];
}

/** When each rule came to stand: by place and grant, ISO 8601. */
export type Since = ReadonlyMap<string, string>;

export const sinceKey = (place: string, key: string): string => `${place}|${key}`;

/** Whom and what a part is about. */
export interface Extent {
  places: readonly CompiledPlace[];
  subjects: readonly CompiledSubject[];
}

/** Finds whom and what a part is about. Throws where it names nothing, or no space for a space. */
export function extentOf(index: AccessIndex, part: Part): Extent {
  if ("person" in part) {
    const subject = subjectOf(index, { person: part.person });
    if (!subject) throw notThere();
    return { places: index.places, subjects: [subject] };
  }
  const id = "space" in part ? part.space : part.subtree;
  const place = placeOf(index, id);
  if (!place) throw notThere();
  if ("space" in part && place.place.kind !== "space")
    throw badRequest(`"${id}" is not a space. For a page and what is below it, ask for the subtree.`);
  return { places: below(index, place), subjects: index.subjects };
}

/** How many lines there will be. */
export function countLines(index: AccessIndex, { places, subjects }: Extent, at: Instant): number {
  let lines = 0;
  for (const place of places) for (const subject of subjects) if (decide(index, subject.number, place.number, at) !== 0) lines++;
  return lines;
}

class Lines {
  private readonly who = new Map<CompiledSubject, readonly string[]>();
  private readonly what = new Map<object, Map<number, readonly string[]>>();

  constructor(
    private readonly index: AccessIndex,
    private readonly at: Instant,
    private readonly names: Names,
    private readonly since: Since,
  ) {}

  private whoIs(subject: CompiledSubject): readonly string[] {
    const known = this.who.get(subject);
    if (known) return known;
    const { person, pass } = subject;
    const name = person ? (person.name ?? person.id) : pass ? `Whoever holds a pass for ${this.names.place(pass.place)}` : "The public";
    const made = [subject.key, name, person?.kind ?? (pass ? "pass" : "public")];
    this.who.set(subject, made);
    return made;
  }

  private whereIs(place: CompiledPlace): readonly string[] {
    const path = pathOf(this.index, place).map((it) => (it.place.kind === "site" ? "site" : (it.place.title ?? it.place.id)));
    return [place.place.id, place.place.title ?? "", path.join(" / "), place.place.kind === "site" ? "" : place.place.state];
  }

  private sourceWords(source: Source): string {
    if (source.rule === "ownDraft") return "owns the draft";
    if (source.rule === "pass") return `holds a pass for ${this.names.place(source.place)}`;
    return `${grantSentence(source.grant, this.names)} (on ${this.names.place(source.place)})`;
  }

  private whatIs(subject: CompiledSubject, place: CompiledPlace, cell: Cell): readonly string[] {
    const set = cell & SET_OF_CELL;
    const sources = sourcesOf(this.index, subject, place, this.at).filter(({ mask }) => mask & set);
    const nearest = sources.find((source) => source.rule === "grant");
    const since = nearest && this.since.get(sinceKey(nearest.place, grantKey(nearest.grant)));
    const through = sources.map((source) => this.sourceWords(source)).join("; ");
    return [...cellWords(cell), through, since ?? ""];
  }

  *of({ places, subjects }: Extent): IterableIterator<EffectiveLine> {
    const { index, at } = this;
    for (const place of places) {
      const where = this.whereIs(place);
      const {
        row: cells,
        tables: { classOf },
      } = rowOfPlace(index, place.number, at);
      const owner = index.ownerGate[place.number];
      let known = this.what.get(cells);
      if (!known) {
        known = new Map();
        this.what.set(cells, known);
      }
      for (const subject of subjects) {
        const number = classOf[subject.number] as number;
        if (number === PASS_CLASS || subject.number === owner) {
          const cell = decide(index, subject.number, place.number, at);
          if (cell !== 0) yield { who: this.whoIs(subject), where, what: this.whatIs(subject, place, cell) };
          continue;
        }
        const cell = cells[number] as Cell;
        if (cell === 0) continue;
        let what = known.get(number);
        if (!what) {
          what = this.whatIs(subject, place, cell);
          known.set(number, what);
        }
        yield { who: this.whoIs(subject), where, what };
      }
    }
  }
}

/** The lines of an extent, each made when it is asked for. */
export const effectiveLines = (
  index: AccessIndex,
  extent: Extent,
  at: Instant,
  names: Names,
  since: Since,
): IterableIterator<EffectiveLine> => new Lines(index, at, names, since).of(extent);
