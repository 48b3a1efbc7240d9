/** What follows from a change outside the access document, in the same transaction: order among siblings, schedules that end, sessions that end. */

import { and, eq, or } from "drizzle-orm";
import { below, placeOf } from "../../../core/access/index/index.ts";
import { actBetween, type Edit, type Instant, instantOf, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import type { Access } from "../../access/current.ts";
import { shutOut } from "../../accounts/session.ts";
import type { Tx } from "../../db/client.ts";
import { countLinksIn, deriveDue, deriveListing, targetsOf } from "../../db/deriving.ts";
import { schedules } from "../../db/schema/index.ts";
import { among } from "../../db/textArray.ts";
import { beginningToAsk, licenseWhatIsThere } from "../approval/licences.ts";
import { writeHouseRules } from "../house/houseRules.ts";
import { writeHeld } from "../leaving/held.ts";
import { eraseWords } from "../life/erasing.ts";
import { writeLandings } from "../life/facts.ts";
import { writeManagers } from "../people/managers.ts";
import { writeReview } from "../review/reviewEdits.ts";
import { showLiveAgain } from "./liveAgain.ts";
import { writeMarks } from "./marks.ts";
import { writeSlots } from "./order.ts";

/** Which schedules an edit ends: going live alone, both, or none (lifecycle.md, "Schedules"). */
function ended({ index }: Access, edit: Edit): { live: string[]; both: string[] } {
  if (edit.kind === "state") {
    const act = actBetween(placeOf(index, edit.place)?.place.kind ?? "page", edit.from, edit.to);
    if (act === "publish" || act === "unschedule") return { live: [edit.place], both: [] };
    return act === "takeDown" || act === "archive" || act === "bin" ? { live: [], both: [edit.place] } : { live: [], both: [] };
  }
  const moved = edit.kind === "move" ? placeOf(index, edit.place) : undefined;
  const to = edit.kind === "move" ? placeOf(index, edit.to) : undefined;
  if (!moved || !to || moved.space === to.space) return { live: [], both: [] };
  return { live: [], both: below(index, moved).map(({ place }) => place.id) };
}

async function endSchedules(tx: Tx, access: Access, edits: readonly Edit[]): Promise<void> {
  const all = edits.map((edit) => ended(access, edit));
  const live = all.flatMap((it) => it.live);
  const both = all.flatMap((it) => it.both);
  if (live.length + both.length === 0) return;
  await tx.delete(schedules).where(or(among(schedules.placeId, both), and(among(schedules.placeId, live), eq(schedules.what, "live"))));
}

/** People whom a change suspends, or whose last day it brings before now. */
const leaving = (edits: readonly Edit[], at: Instant): string[] =>
  edits.flatMap((edit) => {
    if (edit.kind !== "person" || !edit.put) return [];
    const { status, until } = edit.put;
    return status === "suspended" || (until && instantOf(until) <= at) ? [edit.person] : [];
  });

/** Spaces whose pages may be due at another time: their period was changed, or a branch came to them. */
const spacesWithOtherPeriods = ({ index }: Access, edits: readonly Edit[]): string[] => {
  const found = edits.flatMap((edit) => {
    if (edit.kind === "settings") return edit.put?.review === edit.remove?.review ? [] : [edit.place];
    if (edit.kind !== "move") return [];
    const space = index.places[placeOf(index, edit.to)?.space ?? -1];
    return space && space.number !== placeOf(index, edit.place)?.space ? [space.place.id] : [];
  });
  return [...new Set(found)];
};

export async function followUp(
  tx: Tx,
  access: Access,
  edits: readonly Edit[],
  entry: { seq: Seq; at: Date },
  writesLive: readonly string[],
): Promise<void> {
  await showLiveAgain(tx, edits, entry, writesLive);
  const states = edits.flatMap((edit) => (edit.kind === "state" || edit.kind === "erase" ? [edit.place] : []));
  const linked = await targetsOf(tx, states);
  await writeSlots(tx, edits, entry.seq);
  await writeLandings(tx, edits);
  await writeMarks(tx, edits, entry.seq);
  await writeReview(tx, edits);
  await writeHouseRules(tx, edits);
  await writeHeld(tx, edits);
  await writeManagers(tx, edits);
  await endSchedules(tx, access, edits);
  await shutOut(tx, leaving(edits, access.at));
  await eraseWords(tx, edits);
  await deriveListing(tx, [...new Set(edits.flatMap((edit) => placeOfEdit(edit) ?? []))]);
  // By where everything stands after the change.
  for (const space of beginningToAsk(edits)) await licenseWhatIsThere(tx, space);
  await deriveDue(tx, spacesWithOtherPeriods(access, edits));
  await countLinksIn(tx, linked);
}
