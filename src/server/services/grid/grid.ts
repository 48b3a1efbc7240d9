/** The grid: the tree of places one may see, with one column for each viewpoint. */

import type { Grid, GridColumn, GridFilter, GridRow, GridShow } from "../../../contracts/grid.ts";
import { decide, GUEST, PUBLIC_CLASS, rowOfPlace } from "../../../core/access/decide/index.ts";
import type { Names } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, placesOfPass } from "../../../core/access/index/index.ts";
import {
  highestLevelFor,
  type Level,
  principalBehind,
  READ,
  readViewpoint,
  type SubjectNumber,
  type Viewpoint,
} from "../../../core/access/model/index.ts";
import type { Access } from "../../access/current.ts";
import { imaginedIn } from "../../access/imagined.ts";
import { inSnapshot } from "../../db/client.ts";
import { actsFor } from "../life/planning.ts";
import { cellsSeen, subjectsSeen } from "./cells.ts";
import { nowOrThen, openSight, type Sight } from "./sight.ts";
import { type Shown, VisibleTree } from "./tree.ts";

const NONE: Level = 0;

const BASIC = { public: "Public", guests: "Guests", members: "Members" } as const;

/** How the head of a column calls a viewpoint. */
export function nameOf(names: Names, viewpoint: Viewpoint): string {
  switch (viewpoint.kind) {
    case "group":
      return names.group(viewpoint.id);
    case "person":
      return names.person(viewpoint.id);
    case "pass":
      return "Pass";
    case "imagined":
      return `Any ${viewpoint.of} in ${viewpoint.groups.map(names.group).join(" and ")}`;
    default:
      return BASIC[viewpoint.kind];
  }
}

function columnsFor(sight: Sight, keys: readonly string[]): GridColumn[] {
  const { index } = sight.access;
  return keys.flatMap((key) => {
    const viewpoint = readViewpoint(key);
    if (!viewpoint) return [];
    const name = nameOf(sight.names, viewpoint);
    if (viewpoint.kind === "imagined")
      return imaginedIn(index, { kind: viewpoint.of, groups: viewpoint.groups })
        ? [{ key, name, people: 1, settable: false, most: NONE }]
        : [];
    const subjects = subjectsSeen(sight, key);
    // A group may be empty; whoever else is not there has no column.
    const there =
      viewpoint.kind === "group" ? sight.live || index.document.groups.some(({ id }) => id === viewpoint.id) : subjects.length > 0;
    if (!(viewpoint.kind in BASIC) && !there) return [];
    const principal = sight.live ? principalBehind(viewpoint) : null;
    const isGuest = viewpoint.kind === "person" && subjects[0]?.class === "guests";
    const most = highestLevelFor(principal ?? { audience: "accounts" }, isGuest);
    return [{ key, name, people: subjects.length, settable: principal !== null, most }];
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

  constructor(private readonly sight: Sight) {
    this.byPass = openedByPasses(sight.access);
  }

  outside(place: CompiledPlace): GridRow["outside"] {
    return this.sight.tells(place) ? outsideOf(this.sight.access, place, this.byPass) : "none";
  }

  private shows(show: GridShow, place: CompiledPlace): boolean {
    if (show === "outside") return this.outside(place) !== "none";
    if (!this.sight.tells(place)) return false;
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
function rowOf(sight: Sight, tree: VisibleTree, facts: Facts, { place, unsent, fits }: Shown) {
  const { access, me, live } = sight;
  const seen = sight.sees(place);
  const known = sight.tells(place);
  return {
    id: tree.idOf(place),
    kind: place.place.kind,
    title: place.place.kind === "site" ? "The whole site" : seen ? (place.place.title ?? "") : "",
    state: seen ? place.place.state : ("live" as const),
    fresh: known && place.fresh,
    fences: known ? place.fences.map((fence) => fence.kind) : [],
    rules: known && place.grants.length > 0,
    outside: facts.outside(place),
    editable: known && live,
    acts: seen && live ? actsFor(access, me, place) : [],
    unsent,
    fits,
  };
}

/** What is asked of a grid: columns (viewpoints), places whose insides are wanted, a filter, as of when. */
export interface GridOrder {
  columns: readonly string[];
  opened?: readonly string[];
  filter?: GridFilter;
  at?: string | undefined;
}

/**
 * The grid for one asker. Of a large site, what is in opened places or fits the filter; what there is beyond what can be sent is
 * counted. As of another instant it is rebuilt from what was in force then: on a large site aside.
 */
export const readGridHere = (asker: string, { columns: keys, opened = [], filter = {}, at }: GridOrder): Promise<Grid> =>
  inSnapshot(async (tx) => {
    const sight = await openSight(tx, asker, at);
    const columns = columnsFor(sight, keys);
    const facts = new Facts(sight);
    const tree = new VisibleTree(sight.access, sight.me, sight.live ? null : sight.sees);
    const filtered = filter.show !== undefined || Boolean(filter.state) || Boolean(filter.words);
    const tells = tree.isWhole || !filtered ? null : (place: CompiledPlace) => facts.fits(filter, place);
    const { rows: shown, fit, unshown } = await tree.shown(tx, new Set(opened), tells);
    const cells = cellsSeen(
      sight,
      columns.map(({ key }) => key),
      shown.map(({ place }) => place),
    );
    const numberOf = new Map<number, number>();
    const rows: GridRow[] = [];
    for (const it of shown) {
      const parent = numberOf.get(it.place.parent) ?? -1;
      numberOf.set(it.place.number, rows.length);
      const depth = (rows[parent]?.depth ?? -1) + 1;
      rows.push({ ...rowOf(sight, tree, facts, it), parent, depth, cells: cells.get(it.place.place.id) ?? null });
    }
    return { seq: sight.access.seq, columns, rows, places: tree.places, whole: tree.isWhole, fit, unshown };
  });

export const readGrid = nowOrThen("readGridHere", readGridHere, (_, { at }) => at);
