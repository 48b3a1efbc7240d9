/**
 * Whose eyes a reader page is looked at through: one's own, or (walking) somebody else's. Walking is read-only, counts no
 * views, and never shows a body that the looker could not open as themselves.
 */

import { sql } from "drizzle-orm";
import type { Edge, ReaderLink } from "../../../contracts/reading.ts";
import { opensByStepIn, type StepIn } from "../../../core/access/authority/index.ts";
import { cellsInBlock, tellsOfOthers } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, subjectOf } from "../../../core/access/index/index.ts";
import { READ, readViewpoint, subjectBehind, type Viewpoint } from "../../../core/access/model/index.ts";
import { type Access, mayRead, readAccess, subjectFor } from "../../access/current.ts";
import { imaginedIn } from "../../access/imagined.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { spaces } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { openStepIns } from "../slip/steppingIn.ts";
import { readerAddress } from "./addresses.ts";

export interface Reader {
  /** Id of the person who is signed in, or null. */
  me: string | null;
  /** Whose eyes these are, the public's or a person's, as `readViewpoint` reads it; null: one's own. */
  viewpoint: string | null;
}

export interface Viewing {
  access: Access;
  looker: CompiledSubject;
  /** The viewpoint, or oneself. */
  viewer: CompiledSubject;
  /** How the edge names somebody who is imagined. */
  called?: string;
  walking: boolean;
  /** Pages the looker has stepped into; they count for one's own eyes only. */
  steps: StepIn[];
  /** The spaces, as arranged. */
  spaces: Pick<
    typeof spaces.$inferSelect,
    "placeId" | "slug" | "purpose" | "landingId" | "arranged" | "contents" | "history" | "indexed"
  >[];
  slugs: Map<string, string>;
  prefix: string;
  /** Whether the viewer reads more than the looker may be shown: a walk says so. */
  partial: boolean;
}

/** Whether somebody oversees any place, or admits people to one. */
function administersAnything({ index, at }: Access, looker: CompiledSubject): boolean {
  return index.blocks.some((block) => [...cellsInBlock(index, block, looker.number, at)].some(({ cell }) => tellsOfOthers(cell)));
}

/** Kept for as long as the rules they were read with: whatever changes a space has an entry in the ledger that touches access. */
const keptSpaces = new WeakMap<AccessIndex, Viewing["spaces"]>();

/** Every space, as arranged; in one piece, since every reader page needs them. */
async function spacesInOrder(tx: Tx, index: AccessIndex): Promise<Viewing["spaces"]> {
  const known = keptSpaces.get(index);
  if (known) return known;
  const [row] = await tx.execute<{ list: Viewing["spaces"] }>(sql`
    select coalesce(json_agg(json_build_object('placeId', place_id, 'slug', slug, 'purpose', purpose, 'landingId', landing_id, 'arranged', arranged,
      'contents', contents, 'history', history, 'indexed', indexed)
      order by position), '[]'::json) as list from ${spaces}`);
  const list = row?.list ?? [];
  keptSpaces.set(index, list);
  return list;
}

export async function openViewing(tx: Tx, reader: Reader): Promise<Viewing> {
  const access = await readAccess(tx);
  const looker = subjectFor(access, reader.me);
  const rows = await spacesInOrder(tx, access.index);
  const slugs = new Map(rows.map(({ placeId, slug }) => [placeId, slug]));
  const common = { access, looker, spaces: rows, slugs };
  if (reader.viewpoint === null) {
    const steps = await openStepIns(tx, reader.me, access.at);
    return { ...common, viewer: looker, walking: false, steps, prefix: "", partial: false };
  }
  const viewpoint = readViewpoint(reader.viewpoint);
  if (viewpoint?.kind === "imagined") return imaginedViewing(common, viewpoint, reader.viewpoint);
  // Passes open by their own address: there is nothing to walk.
  const subject = viewpoint && viewpoint.kind !== "pass" ? subjectBehind(viewpoint) : null;
  const viewer = subject ? subjectOf(access.index, subject) : undefined;
  // What the public sees, every member could see signed out; of anybody else only what the looker keeps is theirs to know.
  const may = looker.class === "members" && (viewpoint?.kind === "public" || administersAnything(access, looker));
  if (!viewer || !may) throw notThere();
  return { ...common, viewer, walking: true, steps: [], prefix: `/eyes/${reader.viewpoint}`, partial: leavesOut(access, viewer, looker) };
}

/** A walk through the eyes of somebody imagined: the rules are those of now, with one person more. */
function imaginedViewing(
  common: Pick<Viewing, "access" | "looker" | "spaces" | "slugs">,
  { of, groups }: Extract<Viewpoint, { kind: "imagined" }>,
  key: string,
): Viewing {
  const { access, looker } = common;
  const made = imaginedIn(access.index, { kind: of, groups });
  if (!made || looker.class !== "members" || !administersAnything(access, looker)) throw notThere();
  const then = { ...access, index: made.index };
  const me = subjectOf(made.index, looker.subject);
  if (!me) throw notThere();
  const names = namesFor(access, looker);
  const called = `any ${of} in ${groups.map(names.group).join(" and ")}`;
  return {
    ...common,
    access: then,
    looker: me,
    viewer: made.subject,
    called,
    walking: true,
    steps: [],
    prefix: `/eyes/${key}`,
    partial: leavesOut(then, made.subject, me),
  };
}

const isPublic = (viewer: CompiledSubject): boolean => viewer.person === null && viewer.pass === null;

/** Whether there is anything the viewer reads that the looker may not be shown. */
function leavesOut({ index, at }: Access, viewer: CompiledSubject, looker: CompiledSubject): boolean {
  if (isPublic(viewer)) return false;
  return index.blocks.some((block) => {
    const known = [...cellsInBlock(index, block, looker.number, at)];
    return [...cellsInBlock(index, block, viewer.number, at)].some(
      ({ cell }, i) => (cell & READ) !== 0 && !tellsOfOthers(known[i]?.cell ?? 0),
    );
  });
}

/** Whether the viewer reads a place, as far as the looker may know: what the looker may neither admit to nor oversee stays out of a walk. */
export function isOpen(viewing: Viewing, place: CompiledPlace): boolean {
  const { access, viewer, looker, walking } = viewing;
  if (!mayRead(access, viewer, place))
    return viewing.steps.length > 0 && opensByStepIn(access.index, viewing.steps, viewer, place, access.at);
  return !walking || isPublic(viewer) || mayKnowOthers(access, looker, place);
}

/** Of each block the live places that are open, without looking at each: they share rows. Own drafts and passes are not live places. */
export function openLive(viewing: Viewing, block: number): (readonly number[])[] {
  const { index, at } = viewing.access;
  const whole = index.blocks[block];
  if (!whole) return [];
  const known = viewing.walking && !isPublic(viewing.viewer) ? [...cellsInBlock(index, whole, viewing.looker.number, at)] : null;
  return [...cellsInBlock(index, whole, viewing.viewer.number, at)].flatMap(({ row, cell }, i) => {
    const isLive = !row.example.unpublished && row.example.place.state === "live";
    return isLive && cell & READ && (known === null || tellsOfOthers(known[i]?.cell ?? 0)) ? [row.places] : [];
  });
}

export const linkTo = (viewing: Viewing, place: CompiledPlace): ReaderLink => ({
  id: place.place.id,
  title: place.place.title ?? "",
  address: viewing.prefix + readerAddress(viewing.slugs, viewing.access.index, place),
});

/** How an edge names the eyes: "the public", "Ines Carvalho, guest". */
export const eyesName = (viewer: CompiledSubject): string =>
  viewer.person ? `${viewer.person.name}, ${viewer.person.kind}` : "the public";

export const edgeOf = (viewing: Viewing): Edge => ({
  eyes: viewing.walking ? (viewing.called ?? eyesName(viewing.viewer)) : null,
  prefix: viewing.prefix,
  partial: viewing.partial,
});

/** Whose eyes a walk looks through, for the edge around pages that are not there for them. */
export async function readEdge(reader: Reader): Promise<Edge> {
  return inSnapshot(async (tx) => {
    const viewing = await openViewing(tx, reader);
    return edgeOf(viewing);
  });
}
