/** Passes: made and shown once, listed with how they are used, withdrawn for good. */
import { randomBytes } from "node:crypto";
import { count, eq, inArray, sql } from "drizzle-orm";
import type { Made, Preview } from "../../../contracts/change.ts";
import type { MadePass, MakePassBody, PassBody, PassList, PassRow } from "../../../contracts/passes.ts";
import { type CompiledPlace, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, instantOf, type Pass, READ } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, cellOf, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { database, inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { passLinks } from "../../db/schema/index.ts";
import { idOf } from "../../ids.ts";
import { siteAddress } from "../../notices/mail.ts";
import { sha256 } from "../../secrets.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";

const MOST_LISTED = 300;

/** The edit that makes a pass; where it may not be made, nothing else is said. */
async function making(tx: Tx, access: Access, maker: string, { place, below, until }: PassBody): Promise<{ id: string; edit: Edit }> {
  need(access, subjectFor(access, maker), "changePasses", seenPlace(access, subjectFor(access, maker), place));
  const kind = placeOf(access.index, place)?.place.kind;
  if (kind !== "page" && kind !== "bulletin") throw badRequest("A pass opens a page or a bulletin, and what is below it.");
  if (until !== null && !(instantOf(until) > access.at)) throw badRequest("The end of a pass must lie ahead.");
  const [made] = await tx.select({ n: count() }).from(passLinks).where(eq(passLinks.by, maker));
  const id = idOf("pass", maker, place, made?.n ?? 0);
  const put: Pass = { id, place, below, revoked: false, ...(until === null ? {} : { until }) };
  return { id, edit: { kind: "pass", pass: id, put } };
}

/** Refuses whoever may make no pass there, before anything is worked out. */
async function checkFirst(maker: string, { place }: PassBody): Promise<void> {
  const access = await accessNow();
  const me = subjectFor(access, maker);
  need(access, me, "changePasses", seenPlace(access, me, place));
}

export const lookAtPassHere = (maker: string, order: PassBody): Promise<Preview> =>
  inSnapshot(async (tx) => {
    const { edit } = await making(tx, await readAccess(tx), maker, order);
    return previewOf(await planChange(tx, { maker, edits: [edit] }));
  });

export const lookAtPass = ofWholeSite("lookAtPassHere", checkFirst, lookAtPassHere);

/** Makes a pass; the answer is the only place where its link ever stands. */
export const makePassHere = (maker: string, order: MakePassBody): Promise<MadePass> =>
  inChange(async (tx) => {
    const { id, edit } = await making(tx, await readAccess(tx), maker, order);
    const { note, seen, reason } = order;
    const entry = await makeChange(tx, { maker, edits: [edit], act: "makePass", note, seen, ...(reason ? { reason } : {}) });
    const token = randomBytes(24).toString("base64url");
    await tx.insert(passLinks).values({ passId: id, hash: sha256(token), name: order.name.trim(), by: maker, at: entry.at });
    return { id, seq: entry.seq, link: `${siteAddress()}/pass/${token}` };
  });

export const makePass = ofWholeSite("makePassHere", checkFirst, makePassHere);

export const withdrawPass = (maker: string, id: string): Promise<Made> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const remove = access.index.document.passes.find((it) => it.id === id);
    const place = remove && placeOf(access.index, remove.place);
    if (!remove || !place || !mayKnowOthers(access, me, place)) throw notThere();
    if (remove.revoked) throw badRequest("This pass was withdrawn already.");
    const edits: Edit[] = [{ kind: "pass", pass: id, remove, put: { ...remove, revoked: true } }];
    return { seq: (await makeChange(tx, { maker, edits, act: "withdrawPass", note: "" })).seq };
  });

/** Whether a pass opens its page by now. */
function stateOf(access: Access, pass: Pass, place: CompiledPlace): PassRow["state"] {
  if (pass.revoked) return "withdrawn";
  if (pass.until && instantOf(pass.until) <= access.at) return "over";
  const holder = subjectOf(access.index, { pass: pass.id });
  return holder && cellOf(access, holder, place) & READ ? "works" : "closed";
}

/** Passes where the asker may know the rules: of the site, of a space, or of one place. */
export const readPasses = (asker: string, within?: string): Promise<PassList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const names = namesFor(access, me);
    const only = within === undefined ? undefined : seenPlace(access, me, within);
    const fits = (place: CompiledPlace) =>
      !only || only.place.kind === "site" || (only.place.kind === "space" ? place.space === only.number : place === only);
    const known = access.index.document.passes.flatMap((pass) => {
      const place = placeOf(access.index, pass.place);
      return place && fits(place) && mayKnowOthers(access, me, place) ? [{ pass, place }] : [];
    });
    const rows = await tx
      .select()
      .from(passLinks)
      .where(
        inArray(
          passLinks.passId,
          known.map(({ pass }) => pass.id),
        ),
      );
    const links = new Map(rows.map((row) => [row.passId, row]));
    const at = ({ pass }: { pass: Pass }) => links.get(pass.id)?.at.getTime() ?? 0;
    const listed = known.sort((a, b) => at(b) - at(a)).slice(0, MOST_LISTED);
    return {
      passes: listed.map(({ pass, place }): PassRow => {
        const link = links.get(pass.id);
        return {
          id: pass.id,
          place: { id: place.place.id, name: place.place.title ?? "" },
          space: access.index.places[place.space]?.place.title ?? "",
          below: pass.below,
          until: pass.until ?? null,
          name: link?.name ?? null,
          by: link ? names.person(link.by) : "",
          at: link?.at.toISOString() ?? null,
          uses: link?.uses ?? 0,
          usedAt: link?.usedAt?.toISOString() ?? null,
          state: stateOf(access, pass, place),
        };
      }),
      more: known.length - listed.length,
    };
  });

/** Counts a use. Nobody waits for it. */
export async function countUse(passId: string): Promise<void> {
  await database()
    .update(passLinks)
    .set({ uses: sql`${passLinks.uses} + 1`, usedAt: new Date() })
    .where(eq(passLinks.passId, passId));
}
