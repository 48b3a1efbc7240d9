/** The whole matrix, every subject at every place, on classes: its totals, and its cells class by class. */

import { type AccessIndex, type Block, type CompiledPlace, type CompiledSubject, placesOfPass, type Row } from "../index/index.ts";
import { type AbilitySet, type Instant, LEVELS, levelOf } from "../model/index.ts";
import { type Cell, keptCells, OVERSEES, rowCells, rowOfPlace, SET_OF_CELL, tablesAt, walkedCell } from "./tables.ts";

/** Numbers of pairs of a subject and a place. */
export interface MatrixTotals {
  pairs: number;
  /** By level, from Nothing to Keeper. */
  levels: number[];
  /** Sets that are no level. */
  custom: number;
  oversight: number;
}

/** For each possible mask the level it is, or -1. */
const LEVEL_OF: Int8Array = Int8Array.from({ length: SET_OF_CELL + 1 }, (_, set) => levelOf(set as AbilitySet) ?? -1);

function count(totals: MatrixTotals, cell: Cell, pairs: number): void {
  const level = LEVEL_OF[cell & SET_OF_CELL] as number;
  if (level < 0) totals.custom += pairs;
  else totals.levels[level] = (totals.levels[level] as number) + pairs;
  if (cell & OVERSEES) totals.oversight += pairs;
}

/** Pairs that the classes do not answer for: members at drafts they own, pass holders where their pass reaches. */
function* exceptions(index: AccessIndex): IterableIterator<{ subject: CompiledSubject; place: CompiledPlace }> {
  for (const place of index.places) {
    const owner = index.subjects[index.ownerGate[place.number] as number];
    if (owner) yield { subject: owner, place };
  }
  for (const subject of index.subjects) {
    if (subject.pass) for (const place of placesOfPass(index, subject.pass)) yield { subject, place };
  }
}

/** Totals of the whole matrix at an instant (milliseconds since the epoch), exact for all pairs. */
export function matrixTotals(index: AccessIndex, at: Instant): MatrixTotals {
  const totals: MatrixTotals = {
    pairs: index.subjects.length * index.places.length,
    levels: LEVELS.map(() => 0),
    custom: 0,
    oversight: 0,
  };
  for (const block of index.blocks) {
    const tables = tablesAt(index, block, at);
    const { counts } = tables;
    block.rows.forEach((row, number) => {
      const cells = keptCells(index, block, tables, number, at);
      const places = row.places.length;
      for (let i = 0; i < cells.length; i++) if (counts[i] !== 0) count(totals, cells[i] as Cell, (counts[i] as number) * places);
    });
  }
  for (const { subject, place } of exceptions(index)) {
    const {
      row: cells,
      tables: { classOf },
    } = rowOfPlace(index, place.number, at);
    count(totals, cells[classOf[subject.number] as number] as Cell, -1);
    count(totals, walkedCell(index, subject, place, at), 1);
  }
  return totals;
}

/** A class of subjects in a block: who is in it, by number. */
export interface SubjectClassOf {
  number: number;
  subjects: number[];
}

/** One block of the matrix in class form. */
export interface MatrixBlock {
  block: Block;
  classes: SubjectClassOf[];
  rows: readonly Row[];
  /** Cell of a class at a row, both by number. */
  cell(row: number, classNumber: number): Cell;
}

/** The matrix block by block, in class form. Pass holders and own drafts come apart, from `matrixExceptions`. */
export function* matrixBlocks(index: AccessIndex, at: Instant): IterableIterator<MatrixBlock> {
  for (const block of index.blocks) {
    const tables = tablesAt(index, block, at);
    const members = new Map<number, number[]>();
    tables.classOf.forEach((number, subject) => {
      const list = members.get(number);
      if (list) list.push(subject);
      else members.set(number, [subject]);
    });
    const classes = [...members].map(([number, subjects]) => ({ number, subjects })).sort((a, b) => a.number - b.number);
    const rows = new Map<number, Uint16Array>();
    const cell = (row: number, classNumber: number): Cell => {
      const known = rows.get(row) ?? rowCells(index, block, tables, row, at);
      rows.set(row, known);
      return known[classNumber] as Cell;
    };
    yield { block, classes, rows: block.rows, cell };
  }
}

/** Pairs that the class form does not answer for, each with its own cell. */
export function* matrixExceptions(
  index: AccessIndex,
  at: Instant,
): IterableIterator<{ subject: CompiledSubject; place: CompiledPlace; cell: Cell }> {
  for (const { subject, place } of exceptions(index)) yield { subject, place, cell: walkedCell(index, subject, place, at) };
}
