/**
 * Quick answers by classes. Every space is a block; in a block, places that cannot differ in what they give anybody share
 * a row, and subjects that no rule of the block tells apart share a class. A row holds one cell for each class, worked
 * out when first asked for. Own drafts and passes concern one subject at one place each and are walked (`evaluate.ts`).
 */

import {
  ACCOUNTS,
  type AccessIndex,
  type Birth,
  type Block,
  blockAt,
  type CompiledFence,
  type CompiledPlace,
  type CompiledSubject,
  isActive,
  MEMBERS,
  PUBLIC,
  type Row,
  ruledAbove,
  ruledAt,
  type Tables,
  windowIn,
} from "../index/index.ts";
import {
  ADMIT,
  GOVERN,
  type Instant,
  LEFT_BY_WRITE_FENCE,
  NOTHING,
  type PageState,
  type PlaceNumber,
  REVISE,
  type SubjectNumber,
} from "../model/index.ts";
import { effectiveSet, gateOfState, hasOversight } from "./evaluate.ts";

/** A cell: the effective set as a mask, and this bit where there is oversight. */
export type Cell = number;
export const OVERSEES: Cell = 1 << 9;
export const SET_OF_CELL: Cell = OVERSEES - 1;

/** The first classes: those of subjects whom no group and no person's own rule tells apart. */
export const PUBLIC_CLASS = 0;
export const PASS_CLASS = 1;
const SUSPENDED = 2;
export const GUEST = 3;
export const MEMBER = 4;
const KINDS = 5;

const kindOf = (subject: CompiledSubject, at: Instant): number => {
  if (subject.pass) return PASS_CLASS;
  if (!subject.person) return PUBLIC_CLASS;
  return !isActive(subject, at) ? SUSPENDED : subject.class === "guests" ? GUEST : MEMBER;
};

/** Every rule-bearing place on the paths of a block's places. */
function ruledPlaces(index: AccessIndex, block: Block): Set<CompiledPlace> {
  const found = new Set<CompiledPlace>();
  for (const { example } of block.rows) {
    for (let here = ruledAt(index, example); here && !found.has(here); here = ruledAbove(index, here)) found.add(here);
  }
  return found;
}

/** Principals that rules on the paths of a block's places name. */
export function namedIn(index: AccessIndex, block: Block): ReadonlySet<number> {
  if (!block.named) {
    const named = new Set<number>();
    for (const place of ruledPlaces(index, block)) {
      for (const grant of place.grants) named.add(grant.to);
      for (const fence of place.fences) for (const principal of fence.admits) named.add(principal);
    }
    block.named = named;
  }
  return block.named;
}

/** The instants between which no grant of a block and nobody's time here ends. */
export function windowAround(index: AccessIndex, block: Block, at: Instant): { from: number; until: number } {
  let { from, until } = windowIn(index.peopleEnds, at);
  for (const place of ruledPlaces(index, block)) {
    for (const grant of place.grants) {
      if (grant.until <= at) from = Math.max(from, grant.until);
      else until = Math.min(until, grant.until);
    }
  }
  return { from, until };
}

/** Subjects in classes, and for each class the one it was split from and the principal that did it (-1: one of the first). */
interface Partition {
  classOf: Uint16Array | Uint32Array;
  kinds: number[];
  bornOf: Birth[];
}

/** The classes of subjects whom nothing but their kind tells apart. */
function partitionByKind({ subjects }: AccessIndex, at: Instant): Partition {
  const classOf = subjects.length < 0xffff ? new Uint16Array(subjects.length) : new Uint32Array(subjects.length);
  for (let i = 0; i < subjects.length; i++) classOf[i] = kindOf(subjects[i] as CompiledSubject, at);
  const kinds = Array.from({ length: KINDS }, (_, kind) => kind);
  return { classOf, kinds, bornOf: kinds.map(() => ({ from: -1, by: -1 })) };
}

/** Splits classes, one principal after another, until no rule that names one of these tells two of a class apart. */
function split(index: AccessIndex, { classOf, kinds, bornOf }: Partition, principals: Iterable<number>): void {
  for (const principal of principals) {
    const moved = new Map<number, number>();
    for (const subject of index.matching[principal] ?? []) {
      const old = classOf[subject] as number;
      let fresh = moved.get(old);
      if (fresh === undefined) {
        fresh = kinds.length;
        moved.set(old, fresh);
        kinds.push(kinds[old] as number);
        bornOf.push({ from: old, by: principal });
      }
      classOf[subject] = fresh;
    }
  }
}

/** The classes of a partition: how many subjects each has, one of them, and which principals match it. */
function classesIn(index: AccessIndex, { classOf, kinds, bornOf }: Partition) {
  const counts = new Int32Array(kinds.length);
  const examples: (CompiledSubject | undefined)[] = new Array(kinds.length).fill(undefined);
  for (let i = 0; i < classOf.length; i++) {
    const number = classOf[i] as number;
    if (counts[number] === 0) examples[number] = index.subjects[i];
    counts[number] = (counts[number] as number) + 1;
  }
  const classesOf = new Map<number, number[]>();
  for (let number = KINDS; number < kinds.length; number++) {
    if (counts[number] === 0) continue;
    for (let { from, by } = bornOf[number] as Birth; by >= 0; { from, by } = bornOf[from] as Birth) {
      const list = classesOf.get(by);
      if (list) list.push(number);
      else classesOf.set(by, [number]);
    }
  }
  return { classOf, kinds: Uint8Array.from(kinds), bornOf, counts, examples, classesOf };
}

function tablesFor(index: AccessIndex, block: Block, at: Instant): Tables {
  const partition = partitionByKind(index, at);
  split(index, partition, namedIn(index, block));
  const cells = new Array(block.rows.length).fill(undefined);
  return { at, ...windowAround(index, block, at), ...classesIn(index, partition), cells, carried: null };
}

/** The classes of earlier tables, split further by principals that no rule named then. The first classes stay what they were. */
export function refinedClasses(index: AccessIndex, tables: Tables, added: readonly number[]) {
  if (added.length === 0) return tables;
  const partition = { classOf: tables.classOf.slice(), kinds: [...tables.kinds], bornOf: [...tables.bornOf] };
  split(index, partition, added);
  return classesIn(index, partition);
}

/** The tables of a block at an instant, worked out where they are missing or out of date. */
export function tablesAt(index: AccessIndex, block: Block, at: Instant): Tables {
  const known = block.tables;
  if (known && at >= known.from && at < known.until) return known;
  block.tables = tablesFor(index, block, at);
  return block.tables;
}

/** What the rules above a row leave every class: grants by class, what fences leave, oversight. */
interface Tally {
  fromPublic: number;
  toAccounts: number;
  toMembers: number;
  fromOthers: Uint16Array;
  left: Uint16Array;
  oversees: Uint8Array;
  allOversee: boolean;
  letIn: Uint8Array;
  everybodyLetIn: number;
}

function addGrants(tally: Tally, place: CompiledPlace, tables: Tables, at: Instant, inScope: boolean): void {
  for (const { to, mask, until } of place.grants) {
    if (until <= at) continue;
    const governs = (mask & GOVERN) !== 0;
    if (to > MEMBERS) {
      for (const number of tables.classesOf.get(to) ?? []) {
        if (inScope) tally.fromOthers[number] = (tally.fromOthers[number] as number) | mask;
        if (governs && tables.kinds[number] === MEMBER) tally.oversees[number] = 1;
      }
    } else if (governs && to === MEMBERS) tally.allOversee = true;
    if (!inScope || to > MEMBERS) continue;
    if (to === PUBLIC) tally.fromPublic |= mask;
    else if (to === ACCOUNTS) tally.toAccounts |= mask;
    else tally.toMembers |= mask;
  }
}

/** Lowest kind of class a fence admits whole: all, all accounts, all members; more than there are where none. */
const admittedKind = (fence: CompiledFence): number =>
  fence.admits.includes(PUBLIC) ? 0 : fence.admits.includes(ACCOUNTS) ? GUEST : fence.admits.includes(MEMBERS) ? MEMBER : KINDS;

function addFence(tally: Tally, fence: CompiledFence, tables: Tables): void {
  const kind = admittedKind(fence);
  if (kind === 0) return;
  const leaves = fence.kind === "read" ? NOTHING : LEFT_BY_WRITE_FENCE;
  const admitted = new Uint8Array(tables.kinds.length);
  for (const principal of fence.admits) for (const number of tables.classesOf.get(principal) ?? []) admitted[number] = 1;
  for (let number = 0; number < admitted.length; number++) {
    if (admitted[number] === 0 && (tables.kinds[number] as number) < kind) tally.left[number] = (tally.left[number] as number) & leaves;
  }
}

/** Who is let in before the page is live: classes, and the lowest kind of class let in whole. */
function addHelpers(tally: Tally, place: CompiledPlace, tables: Tables, at: Instant): void {
  for (const { to, draft, until } of place.grants) {
    if (!draft || until <= at) continue;
    for (const number of tables.classesOf.get(to) ?? []) tally.letIn[number] = 1;
    if (to <= ACCOUNTS) tally.everybodyLetIn = Math.min(tally.everybodyLetIn, GUEST);
    else if (to === MEMBERS) tally.everybodyLetIn = Math.min(tally.everybodyLetIn, MEMBER);
  }
}

function tallyOf(index: AccessIndex, place: CompiledPlace, tables: Tables, at: Instant): Tally {
  const size = tables.kinds.length;
  const tally: Tally = {
    fromPublic: NOTHING,
    toAccounts: NOTHING,
    toMembers: NOTHING,
    fromOthers: new Uint16Array(size),
    left: new Uint16Array(size).fill(SET_OF_CELL),
    oversees: new Uint8Array(size),
    allOversee: false,
    letIn: new Uint8Array(size),
    everybodyLetIn: KINDS,
  };
  let inScope = true;
  for (let here = ruledAt(index, place); here; here = ruledAbove(index, here)) {
    addGrants(tally, here, tables, at, inScope);
    if (here.fresh) inScope = false;
    for (const fence of here.fences) addFence(tally, fence, tables);
  }
  if (place.unpublished) addHelpers(tally, place, tables, at);
  return tally;
}

/**
 * The cells of one row: sections 5 and 6 for every class of a block at once. With `statesAside` step 5 is left out: what
 * the rules give, whatever state page and space are in.
 */
export function rowCells(index: AccessIndex, block: Block, tables: Tables, row: number, at: Instant, statesAside = false): Uint16Array {
  const place = (block.rows[row] as Row).example;
  const tally = tallyOf(index, place, tables, at);
  const spaceState = place.space >= 0 && place.space !== place.number ? (index.places[place.space] as CompiledPlace).place.state : "live";
  const ownState = place.place.kind === "site" ? "live" : place.place.state;
  // Taken out of what they are fields of: this is gone through for every class of every row.
  const { kinds } = tables;
  const { left, fromOthers, oversees, letIn, fromPublic, toAccounts, everybodyLetIn, allOversee } = tally;
  const { outsiderCeiling, guestCeiling } = place;
  const toMember = toAccounts | tally.toMembers;
  const unpublished = place.unpublished && !statesAside;
  const gated = !statesAside && (spaceState !== "live" || ownState !== "live");
  const cells = new Uint16Array(kinds.length);
  for (let number = 0; number < cells.length; number++) {
    const kind = kinds[number] as number;
    if (kind === SUSPENDED) continue;
    const isMember = kind === MEMBER;
    const open = fromPublic & (left[number] as number);
    const others = ((fromOthers[number] as number) | (isMember ? toMember : toAccounts)) & (left[number] as number);
    let set = isMember ? open | others : (open & outsiderCeiling) | (kind === GUEST ? others & guestCeiling : NOTHING);
    if (unpublished) {
      const helped = letIn[number] === 1 || kind >= everybodyLetIn;
      if (kind < GUEST || !(set & REVISE || helped)) set = NOTHING;
    }
    if (gated) set = gateOfState(spaceState, isMember, gateOfState(ownState, isMember, set));
    cells[number] = isMember && (allOversee || oversees[number] === 1) ? set | OVERSEES : set;
  }
  return cells;
}

/** What a state leaves of each cell of a member, oversight with it. */
const LEAVES = new Map<PageState, Uint16Array>();

function leftToMembers(state: PageState): Uint16Array {
  const made =
    LEAVES.get(state) ??
    Uint16Array.from({ length: OVERSEES * 2 }, (_, cell) => gateOfState(state, true, cell & SET_OF_CELL) | (cell & OVERSEES));
  LEAVES.set(state, made);
  return made;
}

/** The cells of a row whose places have left for the archive or the bin, from those of the row they were in, in a live space. */
export function cellsAfterLeaving(cells: Uint16Array, { kinds }: Tables, state: "archived" | "binned"): Uint16Array {
  const leaves = leftToMembers(state);
  const left = new Uint16Array(cells.length);
  for (let number = 0; number < cells.length; number++)
    if (kinds[number] === MEMBER) left[number] = leaves[cells[number] as number] as number;
  return left;
}

/** So many cells (two bytes each) are kept at most; past that all are dropped and worked out again as they are asked for. */
const MOST_CELLS = 25_000_000;

/** The cells of a row, kept for the next question. */
export function keptCells(index: AccessIndex, block: Block, tables: Tables, row: number, at: Instant): Uint16Array {
  const known = tables.cells[row];
  if (known) return known;
  const cells = rowCells(index, block, tables, row, at);
  index.kept.cells += cells.length;
  if (index.kept.cells > MOST_CELLS) {
    for (const other of index.blocks) other.tables?.cells.fill(undefined);
    index.kept.cells = cells.length;
  }
  tables.cells[row] = cells;
  return cells;
}

/** What one subject has in each row of a block. Own drafts and passes are not in it. */
export function* cellsInBlock(
  index: AccessIndex,
  block: Block,
  subject: SubjectNumber,
  at: Instant,
): IterableIterator<{ row: Row; cell: Cell }> {
  const tables = tablesAt(index, block, at);
  const number = tables.classOf[subject] as number;
  for (const [i, row] of block.rows.entries()) yield { row, cell: keptCells(index, block, tables, i, at)[number] as Cell };
}

/** One subject at one place by walking up its path, as a cell. */
export function walkedCell(index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): Cell {
  return effectiveSet(index, subject, place, at) | (hasOversight(index, subject, place, at) ? OVERSEES : 0);
}

/** The cells of the row a place is in, by class, and the class of each subject. Own drafts and passes are not in them. */
export function rowOfPlace(index: AccessIndex, place: PlaceNumber, at: Instant): { row: Uint16Array; tables: Tables } {
  const block = blockAt(index, place);
  const tables = tablesAt(index, block, at);
  return { row: keptCells(index, block, tables, index.rowOf[place] as number, at), tables };
}

/** Whether a cell lets its subject know what others can do there (section 6a): `admit`, or oversight. */
export const tellsOfOthers = (cell: Cell): boolean => (cell & (ADMIT | OVERSEES)) !== 0;
