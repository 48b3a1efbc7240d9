/**
 * The effective access of the whole site in class form: place classes by person classes, who and what is in each, and
 * the pairs that the classes do not answer for (own drafts, passes).
 */

import { type MatrixBlock, matrixBlocks, matrixExceptions, PASS_CLASS } from "../../../../core/access/decide/index.ts";
import { cellWords } from "../../../../core/access/explain/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, pathOf } from "../../../../core/access/index/index.ts";
import type { Instant } from "../../../../core/access/model/index.ts";

export const CLASS_FILES = {
  cells: ["place class", "person class", "places", "people", "level", "abilities", "oversight"],
  places: ["place class", "place", "title", "kind", "state", "path"],
  people: ["person class", "who", "name", "kind"],
  exceptions: ["who", "place", "level", "abilities", "oversight"],
} as const;
export type ClassFile = keyof typeof CLASS_FILES;

/** Names of the classes of one block: by its space, and numbered in it. */
function classNames(index: AccessIndex, { block }: MatrixBlock) {
  const space = index.places[block.space]?.place.id ?? "site";
  return { row: (number: number) => `${space}/p${number + 1}`, people: (number: number) => `${space}/w${number + 1}` };
}

/** Classes of people who have something somewhere in the block. Pass holders are told of one by one, as exceptions. */
const classesWithSomething = (it: MatrixBlock) =>
  it.classes.filter(({ number }) => number !== PASS_CLASS && it.rows.some((_, row) => it.cell(row, number) !== 0));

function* cellRows(index: AccessIndex, it: MatrixBlock): IterableIterator<string[]> {
  const names = classNames(index, it);
  const classes = classesWithSomething(it);
  for (const [row, { places }] of it.rows.entries()) {
    for (const { number, subjects } of classes) {
      const cell = it.cell(row, number);
      if (cell !== 0) yield [names.row(row), names.people(number), String(places.length), String(subjects.length), ...cellWords(cell)];
    }
  }
}

function* placeRows(index: AccessIndex, it: MatrixBlock): IterableIterator<string[]> {
  const names = classNames(index, it);
  for (const [row, { places }] of it.rows.entries()) {
    for (const at of places) {
      const place = index.places[at] as CompiledPlace;
      const { id, title, kind, state } = place.place;
      const path = pathOf(index, place).map((step) => step.place.title ?? step.place.id);
      yield [names.row(row), id, title ?? "", kind, kind === "site" ? "" : state, path.join(" / ")];
    }
  }
}

function* peopleRows(index: AccessIndex, it: MatrixBlock): IterableIterator<string[]> {
  const names = classNames(index, it);
  for (const { number, subjects } of classesWithSomething(it)) {
    for (const at of subjects) {
      const { key, person } = index.subjects[at] as CompiledSubject;
      yield [names.people(number), key, person ? (person.name ?? person.id) : "The public", person?.kind ?? "public"];
    }
  }
}

/** The lines of one of the four files. */
export function* classRows(index: AccessIndex, file: ClassFile, at: Instant): IterableIterator<string[]> {
  if (file === "exceptions") {
    for (const { subject, place, cell } of matrixExceptions(index, at)) yield [subject.key, place.place.id, ...cellWords(cell)];
    return;
  }
  const rows = { cells: cellRows, places: placeRows, people: peopleRows }[file];
  for (const block of matrixBlocks(index, at)) yield* rows(index, block);
}
