/** The access document as rows, both ways: reading it as of any change, and writing what a change makes different. */
import { and, asc, eq, gt, inArray, isNull, lte, or, sql } from "drizzle-orm";
import type { PgColumn } from "drizzle-orm/pg-core";
import {
  type AccessDocument,
  abilitiesIn,
  type Ceilings,
  DEFAULT_CEILINGS,
  type Edit,
  type Fence,
  fenceKey,
  type Grant,
  grantKey,
  maskOf,
  type Place,
  principalKey,
  type Seq,
} from "../../core/access/model/index.ts";
import { insertMany } from "./bulk.ts";
import type { Tx } from "./client.ts";
import { ceilings, fences, grants, groups, memberships, passes, people, places, pledges } from "./schema/index.ts";
import { textArray } from "./textArray.ts";

interface Validity {
  fromSeq: PgColumn;
  toSeq: PgColumn;
}

/** The rows that held after change `seq`, or that hold now for null. */
export const holds = (table: Validity, seq: Seq | null) =>
  seq === null ? isNull(table.toSeq) : and(lte(table.fromSeq, seq), or(isNull(table.toSeq), gt(table.toSeq, seq)));

function gather<Row, Item>(rows: Row[], key: (row: Row) => string, item: (row: Row) => Item): Map<string, Item[]> {
  const found = new Map<string, Item[]>();
  for (const row of rows) {
    const list = found.get(key(row));
    if (list) list.push(item(row));
    else found.set(key(row), [item(row)]);
  }
  return found;
}

interface Rules {
  grantsAt: ReadonlyMap<string, Grant[]>;
  fencesAt: ReadonlyMap<string, Fence[]>;
  ceilingsAt: ReadonlyMap<string, Ceilings>;
}

/** A place of the document from its row and the rules that stand on it. */
const placeOf = (row: typeof places.$inferSelect, { grantsAt, fencesAt, ceilingsAt }: Rules): Place => ({
  id: row.id,
  kind: row.kind,
  ...(row.parentId === null ? {} : { parent: row.parentId }),
  title: row.title,
  state: row.state,
  ...(row.was === null ? {} : { was: row.was }),
  ...(row.binnedFrom === null ? {} : { binnedFrom: row.binnedFrom }),
  stance: row.stance,
  ...(row.ownerId === null ? {} : { owner: row.ownerId }),
  tags: row.tags,
  grants: grantsAt.get(row.id) ?? [],
  fences: fencesAt.get(row.id) ?? [],
  ...(row.kind === "space" && ceilingsAt.has(row.id) ? { ceilings: ceilingsAt.get(row.id) } : {}),
});

/** The whole access document as it was after change `seq`, or as it is now for null. */
export async function loadDocument(tx: Tx, seq: Seq | null = null): Promise<AccessDocument> {
  const peopleRows = await tx.select().from(people).where(holds(people, seq)).orderBy(asc(people.rowId));
  const groupRows = await tx.select().from(groups).where(holds(groups, seq)).orderBy(asc(groups.rowId));
  const memberRows = await tx.select().from(memberships).where(holds(memberships, seq)).orderBy(asc(memberships.rowId));
  const placeRows = await tx.select().from(places).where(holds(places, seq)).orderBy(asc(places.id));
  const grantRows = await tx.select().from(grants).where(holds(grants, seq)).orderBy(asc(grants.rowId));
  const fenceRows = await tx.select().from(fences).where(holds(fences, seq)).orderBy(asc(fences.rowId));
  const ceilingRows = await tx.select().from(ceilings).where(holds(ceilings, seq));
  const passRows = await tx.select().from(passes).where(holds(passes, seq)).orderBy(asc(passes.rowId));
  const pledgeRows = await tx.select().from(pledges).where(holds(pledges, seq)).orderBy(asc(pledges.rowId));

  const membersOf = gather(
    memberRows,
    (row) => row.groupId,
    (row) => (row.memberKind === "person" ? { person: row.memberId } : { group: row.memberId }),
  );
  const grantsAt = gather(
    grantRows,
    (row) => row.placeId,
    (row): Grant => ({
      to: row.to,
      abilities: abilitiesIn(row.abilities),
      ...(row.until ? { until: row.until.toISOString() } : {}),
      ...(row.draft ? { draft: true } : {}),
    }),
  );
  const fencesAt = gather(
    fenceRows,
    (row) => row.placeId,
    (row) => ({ kind: row.kind, admits: row.admits }),
  );
  const ceilingsAt = new Map(ceilingRows.map((row) => [row.placeId, row.ceilings]));
  const site = placeRows.find((row) => row.kind === "site");
  return {
    tesoroAccess: 1,
    ceilings: { ...DEFAULT_CEILINGS, ...(site ? ceilingsAt.get(site.id) : {}) },
    people: peopleRows.map(({ id, name, kind, status, until }) => ({
      id,
      name,
      kind,
      status,
      ...(until ? { until: until.toISOString() } : {}),
    })),
    groups: groupRows.map(({ id, name }) => ({ id, name, members: membersOf.get(id) ?? [] })),
    places: placeRows.map((row) => placeOf(row, { grantsAt, fencesAt, ceilingsAt })),
    passes: passRows.map((row) => ({
      id: row.id,
      place: row.placeId,
      below: row.below,
      ...(row.until ? { until: row.until.toISOString() } : {}),
      revoked: row.revoked,
    })),
    pledges: pledgeRows.map((row) => row.pledge),
  };
}

/** One table's rows of a document, by a key that tells which row is which; equal texts mean equal rows. */
type Rows = Map<string, Record<string, unknown>>;

const rows = <T>(items: readonly T[], key: (item: T) => string, row: (item: T) => Record<string, unknown>): Rows =>
  new Map(items.map((item) => [key(item), row(item)]));

const tables = { people, groups, memberships, places, grants, fences, ceilings, passes, pledges };
type TableName = keyof typeof tables;

const peopleAndGroups = (document: AccessDocument, within: Within) => {
  const groupList = document.groups.filter(({ id }) => within("groups", id));
  const members = groupList.flatMap((group) => group.members.map((member) => ({ group: group.id, member })));
  return {
    people: rows(
      document.people.filter(({ id }) => within("people", id)),
      ({ id }) => id,
      ({ id, name, kind, status, until }) => ({ id, name: name ?? id, kind, status, until: until ? new Date(until) : null }),
    ),
    groups: rows(
      groupList,
      ({ id }) => id,
      ({ id, name }) => ({ id, name: name ?? id }),
    ),
    memberships: rows(
      members,
      ({ group, member }) => `${group}|${principalKey(member)}`,
      ({ group, member }) => ({
        groupId: group,
        memberKind: "person" in member ? "person" : "group",
        memberId: "person" in member ? member.person : member.group,
      }),
    ),
  };
};

const placesAndRules = (document: AccessDocument, placeList: readonly Place[]) => {
  const grantList = placeList.flatMap((place) => place.grants.map((grant) => ({ place: place.id, grant })));
  const fenceList = placeList.flatMap((place) => place.fences.map((fence) => ({ place: place.id, fence })));
  const sites = placeList.filter((place) => place.kind === "site").map(({ id }) => ({ id, own: document.ceilings as Ceilings }));
  const ceilingList = [...sites, ...placeList.flatMap(({ id, ceilings: own }) => (own ? [{ id, own }] : []))];
  return {
    places: rows(
      placeList,
      ({ id }) => id,
      ({ id, kind, parent, title, state, was, binnedFrom, stance, owner, tags }) => ({
        id,
        kind,
        parentId: parent ?? null,
        title: title ?? "",
        state,
        was: was ?? null,
        binnedFrom: binnedFrom ?? null,
        stance,
        ownerId: owner ?? null,
        tags,
      }),
    ),
    grants: rows(
      grantList,
      ({ place, grant }) => `${place}|${grantKey(grant)}`,
      ({ place, grant: { to, abilities, until, draft } }) => ({
        placeId: place,
        to,
        abilities: maskOf(abilities),
        until: until ? new Date(until) : null,
        draft: draft === true,
      }),
    ),
    fences: rows(
      fenceList,
      ({ place, fence }) => `${place}|${fenceKey(fence)}`,
      ({ place, fence }) => ({ placeId: place, kind: fence.kind, admits: fence.admits }),
    ),
    ceilings: rows(
      ceilingList,
      ({ id }) => id,
      ({ id, own }) => ({ placeId: id, ceilings: own }),
    ),
  };
};

/** Whether a thing of the document is among those that may have changed. */
type Within = (field: "people" | "groups" | "places" | "passes" | "pledges", id: string) => boolean;

/** What edits touch, by field and id. */
function touchedBy(edits: readonly Edit[], before: AccessDocument): Within {
  const touched = new Set<string>();
  const erased = new Set(edits.flatMap((edit) => (edit.kind === "erase" ? [edit.place] : [])));
  // With a place its passes go, those too that were withdrawn long ago.
  for (const pass of before.passes) if (erased.has(pass.place)) touched.add(`passes|${pass.id}`);
  for (const edit of edits) {
    if ("place" in edit) touched.add(`places|${edit.place}`);
    else if (edit.kind === "person") touched.add(`people|${edit.person}`);
    else if (edit.kind === "pass") touched.add(`passes|${edit.pass}`);
    else if (edit.kind === "pledge") touched.add(`pledges|${edit.pledge}`);
    else if (edit.kind !== "house" && edit.kind !== "handOver" && edit.kind !== "managers") touched.add(`groups|${edit.group}`);
  }
  return (field, id) => touched.has(`${field}|${id}`);
}

function rowsOf(document: AccessDocument, within: Within): Record<TableName, Rows> {
  return {
    ...peopleAndGroups(document, within),
    ...placesAndRules(
      document,
      document.places.filter(({ id }) => within("places", id)),
    ),
    passes: rows(
      document.passes.filter(({ id }) => within("passes", id)),
      ({ id }) => id,
      ({ id, place, below, until, revoked }) => ({
        id,
        placeId: place,
        below,
        until: until ? new Date(until) : null,
        revoked,
      }),
    ),
    pledges: rows(
      document.pledges.filter(({ id }) => within("pledges", id)),
      ({ id }) => id,
      (pledge) => ({ id: pledge.id, pledge }),
    ),
  };
}

/** Columns that find the current row of a thing. */
const KEYS: Record<TableName, string[]> = {
  people: ["id"],
  groups: ["id"],
  memberships: ["groupId", "memberKind", "memberId"],
  places: ["id"],
  grants: ["placeId", "to", "abilities", "until", "draft"],
  fences: ["placeId", "kind", "admits"],
  ceilings: ["placeId"],
  passes: ["id"],
  pledges: ["id"],
};

const same = (column: PgColumn, value: unknown) => {
  if (value === null) return isNull(column);
  return column.getSQLType() === "jsonb" ? sql`${column} = ${JSON.stringify(value)}::text::jsonb` : eq(column, value);
};

/** Ends the current rows of many places in one statement. */
async function closePlaces(tx: Tx, ids: readonly string[], seq: Seq): Promise<void> {
  if (ids.length === 0) return;
  const closed = await tx.execute(sql`update places set to_seq = ${seq} where to_seq is null and id = any(${textArray(ids)}) returning id`);
  if (closed.length !== ids.length) throw new Error(`${ids.length - closed.length} places that a change replaces are not there`);
}

async function closeRow(tx: Tx, name: TableName, row: Record<string, unknown>, seq: Seq): Promise<void> {
  const table = tables[name];
  const columns = table as unknown as Record<string, PgColumn>;
  const conditions = KEYS[name].map((key) => same(columns[key] as PgColumn, row[key]));
  const found = await tx
    .select({ rowId: table.rowId })
    .from(table)
    .where(and(isNull(table.toSeq), ...conditions))
    .limit(1);
  if (!found[0]) throw new Error(`a row of ${name} that a change replaces is not there: ${JSON.stringify(row)}`);
  await tx.update(table).set({ toSeq: seq }).where(eq(table.rowId, found[0].rowId));
}

/**
 * Writes what differs between two documents as of change `seq`: old rows are closed, new ones begin. Where edits are
 * given, only what they touch is looked at; for null, everything.
 */
export async function writeDifference(
  tx: Tx,
  before: AccessDocument,
  after: AccessDocument,
  seq: Seq,
  edits: readonly Edit[] | null,
): Promise<void> {
  if (before === after) return;
  const within: Within = edits ? touchedBy(edits, before) : () => true;
  const was = rowsOf(before, within);
  const is = rowsOf(after, within);
  for (const name of Object.keys(tables) as TableName[]) {
    const fresh: Record<string, unknown>[] = [];
    const ended = [...was[name]].flatMap(([key, row]) => {
      const now = is[name].get(key);
      return !now || JSON.stringify(now) !== JSON.stringify(row) ? [row] : [];
    });
    if (name === "places")
      await closePlaces(
        tx,
        ended.map(({ id }) => id as string),
        seq,
      );
    else for (const row of ended) await closeRow(tx, name, row, seq);
    for (const [key, row] of is[name]) {
      const old = was[name].get(key);
      if (!old || JSON.stringify(old) !== JSON.stringify(row)) fresh.push({ ...row, fromSeq: seq });
    }
    if (fresh.length > 0) await insertMany(tx, tables[name], fresh);
  }
}

/** Sets the title readers and lists see of a place, from change `seq` on. */
export async function writeTitle(tx: Tx, placeId: string, title: string, seq: Seq): Promise<void> {
  const found = await tx
    .select()
    .from(places)
    .where(and(eq(places.id, placeId), isNull(places.toSeq)));
  const row = found[0];
  if (!row || row.title === title) return;
  const { rowId, ...rest } = row;
  if (row.fromSeq === seq) {
    await tx.update(places).set({ title }).where(eq(places.rowId, rowId));
    return;
  }
  await tx
    .update(places)
    .set({ toSeq: seq })
    .where(inArray(places.rowId, [rowId]));
  await tx.insert(places).values({ ...rest, title, fromSeq: seq });
}

export const emptyDocument = (): AccessDocument => ({
  tesoroAccess: 1,
  ceilings: DEFAULT_CEILINGS,
  people: [],
  groups: [],
  places: [],
  passes: [],
  pledges: [],
});
