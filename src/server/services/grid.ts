/** The grid: the tree of places one may see, with one column for each viewpoint. */

import { sql } from "drizzle-orm";
import type { Grid, GridColumn, GridRow } from "../../contracts/answers.ts";
import { READ } from "../../core/access/abilities.ts";
import { blockAt, type CompiledPlace, type CompiledSubject, placesOfPass, siteOf } from "../../core/access/accessIndex.ts";
import { decide } from "../../core/access/decide.ts";
import type { Principal } from "../../core/access/document.ts";
import { highestLevelFor } from "../../core/access/levels.ts";
import type { Block } from "../../core/access/rows.ts";
import { cellsInBlock, GUEST, OVERSEES, PUBLIC_CLASS, rowOfPlace } from "../../core/access/tables.ts";
import { type Access, maySee, readAccess, subjectFor } from "../access/current.ts";
import { inSnapshot, type Tx } from "../db/client.ts";
import { pages, spaces } from "../db/schema.ts";
import { textArray } from "../db/textArray.ts";
import { cellsOf, mayKnowOthers, subjectsOfColumn } from "./cells.ts";
import { namesFor } from "./naming.ts";

const BASIC: Record<string, string> = { public: "Public", guests: "Guests", members: "Members" };

function columnsFor(access: Access, me: CompiledSubject, keys: readonly string[]): GridColumn[] {
  const names = namesFor(access, me);
  return keys.flatMap((key) => {
    const [kind = "", id = ""] = key.split(":");
    const subjects = subjectsOfColumn(access.index, key);
    if (!BASIC[kind] && subjects.length === 0 && kind !== "group") return [];
    const name = BASIC[kind] ?? (kind === "group" ? names.group(id) : kind === "person" ? names.person(id) : "Pass");
    const principal: Principal = kind === "person" ? { person: id } : kind === "group" ? { group: id } : { audience: kind as "public" };
    const most = highestLevelFor(principal, kind === "person" && subjects[0]?.class === "guests");
    return [{ key, name, people: subjects.length, settable: kind !== "guests" && kind !== "pass", most }];
  });
}

function outsideOf({ index, at }: Access, place: CompiledPlace, byPass: ReadonlySet<number>): GridRow["outside"] {
  const { row, tables } = rowOfPlace(index, place.at, at);
  const { counts, kinds } = tables;
  if ((row[PUBLIC_CLASS] as number) & READ || byPass.has(place.at)) return "public";
  return row.some((cell, number) => kinds[number] === GUEST && counts[number] !== 0 && (cell & READ) !== 0) ? "guests" : "none";
}

/** Places that a pass opens to whoever holds it. */
function openedByPasses({ index, at }: Access): Set<number> {
  const open = new Set<number>();
  for (const pass of index.document.passes) {
    const holder = index.subjectNumbers.get(`pass:${pass.id}`) as number;
    for (const { at: place } of placesOfPass(index, pass)) if (decide(index, holder, place, at) & READ) open.add(place);
  }
  return open;
}

/** Up to so many places a grid is sent whole; of a larger one spaces first, then what is opened. */
const SENT_WHOLE = 2_000;
/** So many rows at most are sent, however much is opened. */
const MOST_ROWS = 4_000;

interface Shown {
  place: CompiledPlace;
  unsent: number;
}

/** The tree of places one may see, with the gaps above them: parents before children, siblings as arranged. */
class VisibleTree {
  private readonly counts = new Map<number, number>();
  private readonly owns: boolean;

  constructor(
    private readonly access: Access,
    private readonly me: CompiledSubject,
  ) {
    this.owns = access.index.ownerGate.includes(me.at);
  }

  /** How many places at and below one the asker may see. */
  count(place: CompiledPlace): number {
    const known = this.counts.get(place.at);
    if (known !== undefined) return known;
    let count = 0;
    if (place.place.kind === "space") count = this.countInBlock(blockAt(this.access.index, place.at));
    else {
      count = maySee(this.access, this.me, place) ? 1 : 0;
      for (const at of place.children) count += this.count(this.access.index.places[at] as CompiledPlace);
    }
    this.counts.set(place.at, count);
    return count;
  }

  /** A whole space is counted by rows, and drafts of one's own are added. */
  private countInBlock(block: Block): number {
    const { index, at } = this.access;
    let count = 0;
    for (const { row, cell } of cellsInBlock(index, block, this.me.at, at)) {
      if (cell & (READ | OVERSEES)) count += row.places.length;
      else if (this.owns) count += row.places.filter((place) => index.ownerGate[place] === this.me.at).length;
    }
    return count;
  }

  private inside(place: CompiledPlace): CompiledPlace[] {
    return place.children.map((at) => this.access.index.places[at] as CompiledPlace).filter((child) => this.count(child) > 0);
  }

  /** The places whose rows are sent: all, or the site, its spaces and what is in the opened ones. */
  async shown(tx: Tx, opened: ReadonlySet<string>): Promise<Shown[]> {
    const site = siteOf(this.access.index);
    const whole = this.count(site) <= SENT_WHOLE;
    const isOpen = (place: CompiledPlace) => whole || place === site || opened.has(place.place.id);
    const lists = new Map<CompiledPlace, CompiledPlace[]>();
    const gather = (place: CompiledPlace) => {
      if (!isOpen(place)) return;
      const list = this.inside(place);
      lists.set(place, list);
      for (const child of list) gather(child);
    };
    if (this.count(site) > 0) gather(site);
    const order = await arrangement(tx, [...lists.values()].flat());
    const rank = (place: CompiledPlace) => (place.place.kind === "bulletin" ? 1e6 : 0) + (order.get(place.place.id) ?? 0);
    const rows: Shown[] = [];
    const visit = (place: CompiledPlace) => {
      if (rows.length >= MOST_ROWS) return;
      const list = lists.get(place);
      const below = this.count(place) - (maySee(this.access, this.me, place) ? 1 : 0);
      rows.push({ place, unsent: list ? 0 : below });
      for (const child of [...(list ?? [])].sort((a, b) => rank(a) - rank(b))) visit(child);
    };
    if (this.count(site) > 0) visit(site);
    return rows;
  }
}

/** Order among siblings: spaces and pages as arranged, bulletins after pages. */
async function arrangement(tx: Tx, list: readonly CompiledPlace[]): Promise<Map<string, number>> {
  const ids = textArray(list.map(({ place }) => place.id));
  const spaceRows = await tx.select({ id: spaces.placeId, position: spaces.position }).from(spaces);
  const pageRows = await tx.select({ id: pages.placeId, position: pages.position }).from(pages).where(sql`${pages.placeId} = any(${ids})`);
  return new Map([...spaceRows, ...pageRows].map(({ id, position }) => [id, position]));
}

/** The grid for one asker and a choice of columns (keys as in `subjectsOfColumn`). Of a large site, what is in `opened` places. */
export async function readGrid(asker: string, columnKeys: readonly string[], opened: readonly string[] = []): Promise<Grid> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const columns = columnsFor(access, me, columnKeys);
    const tree = new VisibleTree(access, me);
    const shown = await tree.shown(tx, new Set(opened));
    const keys = columns.map(({ key }) => key);
    const places = shown.map(({ place }) => place);
    const cells = cellsOf(access, me, access.index, keys, places);
    const byPass = openedByPasses(access);
    const rowOf = new Map<number, number>();
    const rows: GridRow[] = [];
    for (const { place, unsent } of shown) {
      const parent = rowOf.get(place.parent) ?? -1;
      const seen = maySee(access, me, place);
      const known = mayKnowOthers(access, me, place);
      rowOf.set(place.at, rows.length);
      rows.push({
        id: place.place.id,
        parent,
        depth: (rows[parent]?.depth ?? -1) + 1,
        kind: place.place.kind,
        title: place.place.kind === "site" ? "The whole site" : seen ? (place.place.title ?? "") : "",
        state: seen ? place.place.state : "live",
        fresh: known && place.fresh,
        fences: known ? place.fences.map((fence) => fence.kind) : [],
        rules: known && place.grants.length > 0,
        outside: known ? outsideOf(access, place, byPass) : "none",
        editable: known,
        unsent,
        cells: cells.get(place.place.id) ?? null,
      });
    }
    return { seq: access.seq, columns, rows, places: tree.count(siteOf(access.index)) };
  });
}
