/** Cells of the grid: what a viewpoint has at each place, for one person or for many. */
import type { GridCell } from "../../contracts/answers.ts";
import { ADMIT, levelOf } from "../../core/access/abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, peopleOf, placeOf, subjectOf } from "../../core/access/compile.ts";
import { classKey, effectiveSet, hasOversight, ownersOfUnpublished } from "../../core/access/evaluate.ts";
import { type Access, standing } from "../access/current.ts";

/** The subjects behind a column (`public`, `guests`, `members`, `group:ID`, `person:ID`, `pass:ID`); none if it names nobody. */
export function subjectsOfColumn(index: AccessIndex, column: string): CompiledSubject[] {
  const [kind, id = ""] = column.split(":");
  if (kind === "public") return index.subjects.slice(0, 1);
  if (kind === "guests" || kind === "members") return index.subjects.filter((it) => it.person && !it.suspended && it.class === kind);
  if (kind === "group") return peopleOf(index, { group: id });
  const one = subjectOf(index, kind === "pass" ? { pass: id } : { person: id });
  return one ? [one] : [];
}

interface ColumnClass {
  subject: CompiledSubject;
  count: number;
}

function classesOf(index: AccessIndex, subjects: readonly CompiledSubject[], owners: ReadonlySet<string>): ColumnClass[] {
  const found = new Map<string, ColumnClass>();
  for (const subject of subjects) {
    const key = classKey(index, subject, owners);
    const known = found.get(key);
    if (known) known.count++;
    else found.set(key, { subject, count: 1 });
  }
  return [...found.values()];
}

const namesAny = (place: CompiledPlace, classes: readonly ColumnClass[], at: number): boolean =>
  place.fresh ||
  place.fences.length > 0 ||
  place.grants.some((grant) => grant.until > at && classes.some(({ subject }) => subject.matches.has(grant.to)));

function cell(index: AccessIndex, place: CompiledPlace, classes: readonly ColumnClass[], at: number): GridCell {
  const sets = classes.map(({ subject }) => effectiveSet(index, subject, place, at));
  const set = sets.length === 0 ? 0 : sets.reduce((common, it) => common & it);
  return {
    set,
    level: levelOf(set),
    more: classes.reduce((sum, { count }, i) => sum + (sets[i] === set ? 0 : count), 0),
    here: namesAny(place, classes, at),
    oversight: classes.some(({ subject }) => hasOversight(index, subject, place, at)),
  };
}

/** Whether somebody may know what others can do at a place: they admit people there, or oversee it (section 6a). */
export function mayKnowOthers(access: Access, me: CompiledSubject, place: CompiledPlace): boolean {
  const { set, oversight } = standing(access, me, place);
  return oversight || (set & ADMIT) !== 0;
}

/**
 * The cells of `index` (the rules now, or after a change) for every place where the asker may know what others can do
 * by the rules now; null where a column shows nobody.
 */
export function cellsOf(
  access: Access,
  me: CompiledSubject,
  index: AccessIndex,
  columns: readonly string[],
): Map<string, (GridCell | null)[]> {
  const owners = ownersOfUnpublished(index);
  const classes = columns.map((column) => classesOf(index, subjectsOfColumn(index, column), owners));
  const rows = new Map<string, (GridCell | null)[]>();
  for (const known of access.index.places) {
    if (!mayKnowOthers(access, me, known)) continue;
    const place = placeOf(index, known.place.id);
    if (place)
      rows.set(
        place.place.id,
        classes.map((it) => (it.length === 0 ? null : cell(index, place, it, access.at))),
      );
  }
  return rows;
}
