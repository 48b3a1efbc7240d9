/** The grid: the tree of places one may see, with one column for each viewpoint. */

import type { Grid, GridColumn, GridFilter, GridRow, GridShow } from "../../../contracts/grid.ts";
import { decide, GUEST, PUBLIC_CLASS, rowOfPlace } from "../../../core/access/decide/index.ts";
import type { Names } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placesOfPass } from "../../../core/access/index/index.ts";
import {
  highestLevelFor,
  principalBehind,
  READ,
  readViewpoint,
  type SubjectNumber,
  type Viewpoint,
} from "../../../core/access/model/index.ts";
import { type Access, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { actsFor } from "../life/planning.ts";
import { cellsOf, subjectsOfColumn } from "./cells.ts";
import { rowId, type Shown, VisibleTree } from "./tree.ts";

const BASIC = { public: "Public", guests: "Guests", members: "Members" } as const;

/** How the head of a column calls a viewpoint. */
function nameOf(names: Names, viewpoint: Viewpoint): string {
  if (viewpoint.kind === "group") return names.group(viewpoint.id);
  if (viewpoint.kind === "person") return names.person(viewpoint.id);
  return viewpoint.kind === "pass" ? "Pass" : BASIC[viewpoint.kind];
}

function columnsFor(access: Access, me: CompiledSubject, keys: readonly string[]): GridColumn[] {
  const names = namesFor(access, me);
  return keys.flatMap((key) => {
    const viewpoint = readViewpoint(key);
    const subjects = subjectsOfColumn(access, me, key);
    // A group may be empty; whoever else is not there has no column.
    if (!viewpoint || (!(viewpoint.kind in BASIC) && viewpoint.kind !== "group" && subjects.length === 0)) return [];
    const principal = principalBehind(viewpoint);
    const isGuest = viewpoint.kind === "person" && subjects[0]?.class === "guests";
    const most = highestLevelFor(principal ?? { audience: "accounts" }, isGuest);
    return [{ key, name: nameOf(names, viewpoint), people: subjects.length, settable: principal !== null, most }];
  });
}

function outsideOf({ index, at }: Access, place: CompiledPlace, byPass: ReadonlySet<number>): GridRow["outside"] {
  const { row, tables } = rowOfPlace(index, place.number, at);
  const { counts, kinds } = tables;
  if ((row[PUBLIC_CLASS] as number) & READ || byPass.has(place.number)) return "public";
  return row.some((cell, number) => kinds[number] === GUEST && counts[number] !== 0 && (cell & READ) !== 0) ? "guests" : "none";
}

/** Places that a pass opens to whoever holds it. */
function openedByPasses({ index, at }: Access): Set<number> {
  const open = new Set<number>();
  for (const pass of index.document.passes) {
    const holder = index.subjectNumbers.get(`pass:${pass.id}`) as SubjectNumber;
    for (const { number: place } of placesOfPass(index, pass)) if (decide(index, holder, place, at) & READ) open.add(place);
  }
  return open;
}

/** What a filter asks of a place, by name; of everything that the asker may know there. */
class Facts {
  private readonly byPass: ReadonlySet<number>;

  constructor(
    private readonly access: Access,
    private readonly me: CompiledSubject,
  ) {
    this.byPass = openedByPasses(access);
  }

  outside(place: CompiledPlace): GridRow["outside"] {
    return mayKnowOthers(this.access, this.me, place) ? outsideOf(this.access, place, this.byPass) : "none";
  }

  private shows(show: GridShow, place: CompiledPlace): boolean {
    if (show === "outside") return this.outside(place) !== "none";
    if (!mayKnowOthers(this.access, this.me, place)) return false;
    if (show === "rules") return place.grants.length > 0 || place.fresh || place.fences.length > 0;
    return show === "kept" || place.fences.length > 0;
  }

  /** Whether a place one may see fits a filter. */
  fits({ show, state, words }: GridFilter, place: CompiledPlace): boolean {
    if (state && (place.place.kind === "site" || place.place.state !== state)) return false;
    if (words && !(place.place.title ?? "").toLowerCase().includes(words.toLowerCase())) return false;
    return show === undefined || this.shows(show, place);
  }
}

/** One row, as far as the asker may know of its place. */
function rowOf(access: Access, me: CompiledSubject, facts: Facts, { place, unsent, fits }: Shown) {
  const seen = maySee(access, me, place);
  const known = mayKnowOthers(access, me, place);
  return {
    id: rowId(access, me, place),
    kind: place.place.kind,
    title: place.place.kind === "site" ? "The whole site" : seen ? (place.place.title ?? "") : "",
    state: seen ? place.place.state : ("live" as const),
    fresh: known && place.fresh,
    fences: known ? place.fences.map((fence) => fence.kind) : [],
    rules: known && place.grants.length > 0,
    outside: facts.outside(place),
    editable: known,
    acts: seen ? actsFor(access, me, place) : [],
    unsent,
    fits,
  };
}

/**
 * The grid for one asker and a choice of columns (keys as in `subjectsOfColumn`). Of a large site, what is in `opened`
 * places or fits the filter; what there is beyond what can be sent is counted.
 */
export async function readGrid(
  asker: string,
  columnKeys: readonly string[],
  opened: readonly string[] = [],
  filter: GridFilter = {},
): Promise<Grid> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const columns = columnsFor(access, me, columnKeys);
    const facts = new Facts(access, me);
    const tree = new VisibleTree(access, me);
    const filtered = filter.show !== undefined || Boolean(filter.state) || Boolean(filter.words);
    const tells = tree.isWhole || !filtered ? null : (place: CompiledPlace) => facts.fits(filter, place);
    const { rows: shown, fit, unshown } = await tree.shown(tx, new Set(opened), tells);
    const cells = cellsOf(
      access,
      me,
      access.index,
      columns.map(({ key }) => key),
      shown.map(({ place }) => place),
    );
    const numberOf = new Map<number, number>();
    const rows: GridRow[] = [];
    for (const it of shown) {
      const parent = numberOf.get(it.place.parent) ?? -1;
      numberOf.set(it.place.number, rows.length);
      const depth = (rows[parent]?.depth ?? -1) + 1;
      rows.push({ ...rowOf(access, me, facts, it), parent, depth, cells: cells.get(it.place.place.id) ?? null });
    }
    return { seq: access.seq, columns, rows, places: tree.places, whole: tree.isWhole, fit, unshown };
  });
}
