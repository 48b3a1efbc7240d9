/** A new space: its rules by a preset, its first page, last among the spaces; looked at first, made in one transaction. */
import { eq, sql } from "drizzle-orm";
import type { LookAtSpaceBody, SpaceBody, SpaceLook, SpaceRow, StartSpaceBody } from "../../../contracts/spaces.ts";
import { imagine } from "../../../core/access/imagine/index.ts";
import { type AccessIndex, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, principalKey } from "../../../core/access/model/index.ts";
import { PRESET_ROWS, PRESETS, type Preset, presetRules } from "../../../core/access/presets/index.ts";
import { update } from "../../../core/access/update/index.ts";
import type { PageBody } from "../../../core/content/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { writeTitle } from "../../db/document.ts";
import { listing, spaces } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { badRequest } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { cellsSeen } from "../grid/cells.ts";
import { sightOfNow } from "../grid/sight.ts";
import { slugOf } from "../reading/addresses.ts";
import { type Begun, begunFrom, fillingFor, startEdits } from "../templates/using.ts";
import { writeLive } from "../writing/publishing.ts";
import { writeStarted } from "../writing/starting.ts";
import { newestVersion } from "../writing/versions.ts";

const isTaken = async (tx: Tx, slug: string): Promise<boolean> =>
  (await tx.select({ id: spaces.placeId }).from(spaces).where(eq(spaces.slug, slug))).length > 0;

/** An address for a title that no other space has. */
async function freeSlug(tx: Tx, title: string): Promise<string> {
  const wanted = slugOf(title);
  for (let i = 1; ; i++) {
    const slug = i === 1 ? wanted : `${wanted}-${i}`;
    if (!(await isTaken(tx, slug))) return slug;
  }
}

/** What the names in an order may be: groups and people, each in one list at most counts. */
function checkNamed({ keepers, publishers, writers }: SpaceBody): void {
  for (const it of [...keepers, ...publishers, ...writers])
    if ("audience" in it || Object.keys(it).length !== 1)
      throw badRequest(
        "Keepers, Publishers and Writers of a new space are groups or people; what everybody can do follows from the preset.",
      );
}

/** The first pages of a space: those of a template, or one that says what the space is for. */
async function firstPages(
  tx: Tx,
  access: Access,
  maker: string,
  order: StartOrder & SpaceBody,
  pages: readonly string[],
): Promise<Begun[]> {
  const { first, template, zone = "UTC" } = order;
  if (first === undefined && template === undefined) return [];
  if (template === undefined) return [{ id: pages[0] ?? newId(), under: null, title: first ?? "", body: firstBody(order.purpose.trim()) }];
  const me = subjectFor(access, maker);
  const filling = fillingFor(me, access.at, zone, order.title.trim());
  const begun = await begunFrom(tx, access, me, { template, spaceId: null, filling, ids: pages });
  return begun.map((it) => (it.under === null && first !== undefined ? { ...it, title: first } : it));
}

/** The edits that make a space: started, closed or open as its preset says, its first page live, others as drafts. */
function editsOf(access: Access, maker: string, order: SpaceBody, space: string, begun: readonly Begun[]): Edit[] {
  const page = begun[0]?.id;
  const { stance, grants } = presetRules(order.preset, order);
  return [
    { kind: "start", place: space, parent: siteOf(access.index).place.id, as: "space" },
    ...(stance === "fresh" ? [{ kind: "stance" as const, place: space, from: "follow" as const, to: stance }] : []),
    ...grants.map((put): Edit => ({ kind: "grant", place: space, put })),
    ...startEdits(begun, space, "page", maker),
    ...(page === undefined
      ? []
      : ([
          { kind: "state", place: page, from: { state: "draft" }, to: { state: "live" } },
          { kind: "landing", place: space, from: null, to: page },
        ] satisfies Edit[])),
  ];
}

/** People who are imagined: whoever is in nothing else has just what their kind, or one group, gets. */
const IMAGINED = { guest: "imagined-0", member: "imagined-1", inGroup: (nth: number) => `imagined-${nth + 2}` } as const;

const EVERYBODY: [string, string][] = [
  ["public", "The public"],
  [`person:${IMAGINED.guest}`, "Any guest"],
  [`person:${IMAGINED.member}`, "Any member"],
];

/** The index with imagined people: a guest, a member, and a member in each of these groups. */
function imagined(index: AccessIndex, groups: readonly string[]): AccessIndex {
  const alone = (["guest", "member"] as const).map((kind) => ({ kind, groups: [] }));
  const made = imagine(index, [...alone, ...groups.map((group) => ({ kind: "member" as const, groups: [group] }))]);
  return made?.index ?? index;
}

/** What each of these can do in the space, by an index in which it stands. */
function rowsIn(access: Access, maker: string, index: AccessIndex, space: string, rows: readonly [string, string][]): SpaceRow[] {
  const then = { ...access, index };
  const place = placeOf(index, space);
  const columns = rows.map(([key]) => key);
  const cells = place && cellsSeen(sightOfNow(then, subjectFor(then, maker)), columns, [place]).get(space);
  return rows.flatMap(([key, name], i) => {
    const cell = cells?.[i];
    const who = key === "public" ? undefined : subjectOf(index, { person: key.slice("person:".length) });
    return cell ? [{ key, name, outside: who?.class !== "members", cell }] : [];
  });
}

const groupsIn = ({ keepers, publishers, writers }: SpaceBody): string[] => [
  ...new Set([...keepers, ...publishers, ...writers].flatMap((it) => ("group" in it ? [it.group] : []))),
];

/** Groups and people an order names, by column, with their names. */
function namedIn(access: Access, maker: string, order: SpaceBody): [string, string][] {
  const { preset, keepers, publishers, writers } = order;
  const groups = groupsIn(order);
  const names = namesFor(access, subjectFor(access, maker));
  const list = [...keepers, ...publishers, ...(PRESET_ROWS[preset].asksForWriters ? writers : [])];
  const rows = list.map((it): [string, string] =>
    "group" in it
      ? [`person:${IMAGINED.inGroup(groups.indexOf(it.group))}`, names.group(it.group)]
      : "person" in it
        ? [principalKey(it), names.person(it.person)]
        : ["public", ""],
  );
  return [...new Map(rows)];
}

/** What the public, guests and members could do by each preset: the space as planned, its rules exchanged for those of the preset. */
function byPreset(access: Access, maker: string, order: SpaceBody, planned: AccessIndex, space: string): SpaceLook["presets"] {
  const chosen = presetRules(order.preset, order);
  const rows = PRESETS.map((preset): [Preset, SpaceRow[]] => {
    const { stance, grants } = presetRules(preset, order);
    const made = update(planned, [
      ...chosen.grants.map((remove): Edit => ({ kind: "grant", place: space, remove })),
      { kind: "stance", place: space, from: chosen.stance, to: stance },
      ...grants.map((put): Edit => ({ kind: "grant", place: space, put })),
    ]);
    return [preset, made.ok ? rowsIn(access, maker, made.index, space, EVERYBODY) : []];
  });
  return Object.fromEntries(rows) as SpaceLook["presets"];
}

/** Refuses whoever may not make spaces, and names that cannot stand in an order, before anything is worked out. */
async function checkFirst(maker: string, order: SpaceBody): Promise<void> {
  const access = await accessNow();
  need(access, subjectFor(access, maker), "makeSpace");
  checkNamed(order);
}

/** Who could do what in a space made so, and by the other presets; changes nothing. */
export const lookAtSpaceHere = (maker: string, order: LookAtSpaceBody): Promise<SpaceLook> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const space = order.space ?? newId();
    const begun = await firstPages(tx, access, maker, { purpose: "", ...order }, order.pages ?? []);
    const planned = await planChange(tx, {
      maker,
      edits: editsOf(access, maker, order, space, begun),
      writesLive: begun.map(({ id }) => id),
    });
    const address = order.address ?? (await freeSlug(tx, order.title));
    const index = imagined(planned.after, groupsIn(order));
    return {
      space,
      pages: begun.map(({ id }) => id),
      address,
      taken: order.address !== undefined && (await isTaken(tx, address)),
      rows: rowsIn(access, maker, index, space, [...EVERYBODY, ...namedIn(access, maker, order)]),
      presets: byPreset(access, maker, order, index, space),
      preview: previewOf(planned),
    };
  });

// A new space is a new shape of the whole index: on a large site that takes seconds.
export const lookAtSpace = ofWholeSite("lookAtSpaceHere", checkFirst, lookAtSpaceHere);

/** The first text of a space's first page: what the space is for. */
const firstBody = (purpose: string): PageBody => ({
  schema: 1,
  content: purpose === "" ? [{ type: "paragraph" }] : [{ type: "paragraph", content: [{ type: "text", text: purpose }] }],
});

/** Writes the first pages; the first of them goes live. */
async function writeFirstPages(
  tx: Tx,
  maker: string,
  entry: Awaited<ReturnType<typeof makeChange>>,
  { space, begun }: { space: string; begun: readonly Begun[] },
) {
  for (const { id, under, title, body } of begun)
    await writeStarted(tx, entry, { id, parent: under ?? space, as: "page", maker, title, body });
  const first = begun[0]?.id;
  if (first === undefined) return;
  const newest = await newestVersion(tx, first);
  await writeLive(tx, first, maker, "", { chosen: newest, newest }, entry);
}

/** What a space made without a screen leaves out. */
type StartOrder = Omit<StartSpaceBody, "seen" | "note"> & { seen?: string; note?: string };

/** Makes a space, in one transaction. */
export const startSpaceHere = (maker: string, order: StartOrder): Promise<{ id: string }> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const space = order.space ?? newId();
    const [title, purpose] = [order.title.trim(), order.purpose.trim()];
    if (order.address !== undefined && (await isTaken(tx, order.address)))
      throw badRequest(`Another space has the address ${order.address}. Choose another one.`);
    const begun = await firstPages(tx, access, maker, order, order.pages ?? []);
    const entry = await makeChange(tx, {
      maker,
      edits: editsOf(access, maker, order, space, begun),
      act: "startSpace",
      note: order.note ?? "",
      writesLive: begun.map(({ id }) => id),
      ...(order.seen === undefined ? {} : { seen: order.seen }),
      ...(order.reason === undefined ? {} : { reason: order.reason }),
    });
    const [last] = await tx.select({ position: sql<number>`coalesce(max(${spaces.position}), -1)` }).from(spaces);
    const position = (last?.position ?? -1) + 1;
    const slug = order.address ?? (await freeSlug(tx, title));
    await tx
      .insert(spaces)
      .values({ placeId: space, slug, purpose, position, landingId: begun[0]?.id ?? null, reviewDays: PRESET_ROWS[order.preset].review });
    await writeTitle(tx, space, title, entry.seq);
    await tx.update(listing).set({ title }).where(eq(listing.placeId, space));
    await writeFirstPages(tx, maker, entry, { space, begun });
    return { id: space };
  });

export const startSpace = ofWholeSite("startSpaceHere", checkFirst, startSpaceHere);
