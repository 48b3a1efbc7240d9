/** Which versions of a page somebody may open (access-model.md, 6a): all with `revise`, older live ones where the space shows its history. */
import { eq } from "drizzle-orm";
import { opensByStepIn } from "../../../core/access/authority/index.ts";
import { type CompiledPlace, type CompiledSubject, spaceIdOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, mayRead, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { spaces } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { openStepIns } from "../slip/steppingIn.ts";

export interface Opening {
  access: Access;
  me: CompiledSubject;
  place: CompiledPlace;
  /** Every version; otherwise the live ones alone. */
  all: boolean;
  writes: boolean;
}

async function showsHistory(tx: Tx, { index }: Access, place: CompiledPlace): Promise<boolean> {
  const space = spaceIdOf(index, place);
  const [row] = await tx.select({ history: spaces.history }).from(spaces).where(eq(spaces.placeId, space));
  return row?.history ?? false;
}

/** Opens the versions of a page; throws alike for hidden and missing ones. */
export async function openVersions(tx: Tx, asker: string, id: string): Promise<Opening> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const place = seenPlace(access, me, id);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  const writes = mayNot(access, me, "openWorking", place) === null;
  const stepped = !writes && opensByStepIn(access.index, await openStepIns(tx, asker, access.at), me, place, access.at);
  const all = writes || stepped;
  if (!all) {
    // Who oversees a page, and may not read it, is told what readers of its working version need.
    if (!mayRead(access, me, place)) need(access, me, "openWorking", place);
    need(access, me, "openOlderLive", place, { allowed: await showsHistory(tx, access, place) });
  }
  return { access, me, place, all, writes };
}
