/**
 * Reading by a pass: the page it opens and, if it reaches below, what is there; with the eyes of whoever holds it, joined by
 * those of whoever is signed in. Nothing of the site is told but what they read.
 */
import { and, eq } from "drizzle-orm";
import type { PassPage, ReaderLink } from "../../../contracts/reading.ts";
import { below, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { bodyHtml, pagesLinkedFrom } from "../../../core/content/index.ts";
import { type Access, mayRead, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { pages, passLinks, versions } from "../../db/schema/index.ts";
import { sha256 } from "../../secrets.ts";
import { notThere } from "../../trouble.ts";
import { readerAddress, slugOf, spaceSlugs } from "../reading/addresses.ts";

const MOST_BELOW = 200;

/** The pass of a token, and the page it opens; what was withdrawn, is over or never was, is all the same. */
async function passOf(tx: Tx, access: Access, token: string) {
  const [link] = await tx
    .select({ id: passLinks.passId })
    .from(passLinks)
    .where(eq(passLinks.hash, sha256(token)));
  const holder = link && subjectOf(access.index, { pass: link.id });
  const root = holder?.pass && placeOf(access.index, holder.pass.place);
  // Without the pass itself opening its page, nothing is told by its address.
  if (!holder?.pass || !root || !mayRead(access, holder, root)) throw notThere();
  return { holder, root, pass: holder.pass };
}

/** The page a pass opens, or one below it. */
export const readByPass = (token: string, id: string | null, me: string | null): Promise<PassPage & { pass: string }> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const { holder, root, pass } = await passOf(tx, access, token);
    const own: CompiledSubject | null = me === null ? null : subjectFor(access, me);
    const reads = (place: CompiledPlace) => mayRead(access, holder, place) || (own !== null && mayRead(access, own, place));
    const reach = pass.below ? below(access.index, root) : [root];
    const place = id === null ? root : reach.find((it) => it.place.id === id);
    if (!place || !reads(place) || place.place.state !== "live") throw notThere();
    const [row] = await tx
      .select({ title: versions.title, body: versions.body, at: pages.publishedAt })
      .from(versions)
      .innerJoin(pages, and(eq(pages.placeId, versions.placeId), eq(pages.liveMajor, versions.major)))
      .where(and(eq(versions.placeId, place.place.id), eq(versions.minor, 0)));
    if (!row) throw notThere();
    const base = `/pass/${token}`;
    const addressIn = (it: CompiledPlace) => (it === root ? base : `${base}/${slugOf(it.place.title ?? "")}-${it.place.id}`);
    const slugs = await spaceSlugs(tx);
    const open = new Set(reach);
    const targets = new Map(
      pagesLinkedFrom(row.body).map((target) => {
        const it = placeOf(access.index, target);
        if (!it || !reads(it) || it.place.state !== "live") return [target, null];
        return [target, open.has(it) ? addressIn(it) : readerAddress(slugs, access.index, it)];
      }),
    );
    const linkTo = (it: CompiledPlace): ReaderLink => ({ id: it.place.id, title: it.place.title ?? "", address: addressIn(it) });
    const listed = reach.filter((it) => it !== root && it.place.kind === "page" && it.place.state === "live" && reads(it));
    return {
      pass: pass.id,
      id: place.place.id,
      title: row.title,
      html: bodyHtml(row.body, (target) => targets.get(target) ?? null),
      publishedAt: row.at?.toISOString() ?? null,
      until: pass.until ?? null,
      root: linkTo(root),
      below: listed.slice(0, MOST_BELOW).map(linkTo),
      more: Math.max(0, listed.length - MOST_BELOW),
      address: addressIn(place),
    };
  });
