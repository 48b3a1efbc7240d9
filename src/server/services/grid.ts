/** The grid: the tree of places one may see, with one column for each viewpoint. */

import { asc } from "drizzle-orm";
import type { Grid, GridColumn, GridRow } from "../../contracts/answers.ts";
import { READ } from "../../core/access/abilities.ts";
import { type CompiledPlace, type CompiledSubject, peopleOf } from "../../core/access/accessIndex.ts";
import { effectiveSet } from "../../core/access/evaluate.ts";
import { type Access, maySee, readAccess, subjectFor } from "../access/current.ts";
import { inSnapshot, type Tx } from "../db/client.ts";
import { pages, spaces } from "../db/schema.ts";
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
    return [{ key, name, people: subjects.length, settable: kind !== "guests" && kind !== "pass" }];
  });
}

/** Order among siblings: spaces and pages as arranged, bulletins after pages. */
async function arrangement(tx: Tx): Promise<Map<string, number>> {
  const spaceRows = await tx.select({ id: spaces.placeId, position: spaces.position }).from(spaces).orderBy(asc(spaces.position));
  const pageRows = await tx.select({ id: pages.placeId, position: pages.position }).from(pages);
  return new Map([...spaceRows, ...pageRows].map(({ id, position }) => [id, position]));
}

function outsideOf({ index, at }: Access, place: CompiledPlace, guests: readonly CompiledSubject[]): GridRow["outside"] {
  const reads = (subject: CompiledSubject) => (effectiveSet(index, subject, place, at) & READ) !== 0;
  if (index.subjects.some((subject) => subject.class === "outsiders" && reads(subject))) return "public";
  return guests.some(reads) ? "guests" : "none";
}

/** Every place one may see, and the gaps above them, parents before children, siblings as arranged. */
function visibleTree(access: Access, me: CompiledSubject, order: ReadonlyMap<string, number>): CompiledPlace[] {
  const { places } = access.index;
  const shown = new Set<number>();
  for (const place of places) {
    if (!maySee(access, me, place)) continue;
    for (let here: CompiledPlace | undefined = place; here && !shown.has(here.at); here = places[here.parent]) shown.add(here.at);
  }
  const children = new Map<number, CompiledPlace[]>();
  for (const place of places) {
    if (!shown.has(place.at)) continue;
    const list = children.get(place.parent);
    if (list) list.push(place);
    else children.set(place.parent, [place]);
  }
  const rank = (place: CompiledPlace) => (place.place.kind === "bulletin" ? 1e6 : 0) + (order.get(place.place.id) ?? 0);
  const ordered: CompiledPlace[] = [];
  const visit = (list: CompiledPlace[]) => {
    for (const place of [...list].sort((a, b) => rank(a) - rank(b))) {
      ordered.push(place);
      visit(children.get(place.at) ?? []);
    }
  };
  visit(children.get(-1) ?? []);
  return ordered;
}

/** The whole grid for one asker and a choice of columns (keys as in `subjectsOfColumn`). */
export async function readGrid(asker: string, columnKeys: readonly string[]): Promise<Grid> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const columns = columnsFor(access, me, columnKeys);
    const shown = visibleTree(access, me, await arrangement(tx));
    const keys = columns.map(({ key }) => key);
    const cells = cellsOf(access, me, access.index, keys, shown);
    const guests = subjectsOfColumn(access.index, "guests");
    const rowOf = new Map<number, number>();
    const rows: GridRow[] = [];
    for (const place of shown) {
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
        outside: known ? outsideOf(access, place, guests) : "none",
        editable: known,
        cells: cells.get(place.place.id) ?? null,
      });
    }
    const { people, groups } = access.index.document;
    return {
      seq: access.seq,
      columns,
      rows,
      groups: groups.map(({ id, name }) => ({ id, name: name ?? id, people: peopleOf(access.index, { group: id }).length })),
      people: people.map(({ id, name, kind }) => ({ id, name: name ?? id, kind })),
    };
  });
}
