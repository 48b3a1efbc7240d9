/** The passages in which something was found, for whoever reads the page: so much of each as stands around it. */
import { and, eq, inArray, sql } from "drizzle-orm";
import type { FindingsAround, FoundPassage, MarkedFind } from "../../../contracts/findings.ts";
import type { Names } from "../../../core/access/explain/index.ts";
import { type Passage, passagesOf } from "../../../core/findings/index.ts";
import { mayRead, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { findings, findingsAside, pages, versions } from "../../db/schema/index.ts";
import { notThere, refused } from "../../trouble.ts";
import { outsideReaders } from "./outsiders.ts";

export type Found = typeof findings.$inferSelect & { by: string | null; at: Date | null; reason: string | null };

/** Findings of pages with whoever set them aside, in reading order. */
export async function foundIn(tx: Tx, ids: readonly string[]): Promise<Found[]> {
  if (ids.length === 0) return [];
  return tx
    .select({
      placeId: findings.placeId,
      passage: findings.passage,
      start: findings.start,
      end: findings.end,
      kind: findings.kind,
      sign: findings.sign,
      by: findingsAside.by,
      at: findingsAside.at,
      reason: findingsAside.reason,
    })
    .from(findings)
    .leftJoin(findingsAside, and(eq(findingsAside.placeId, findings.placeId), eq(findingsAside.sign, findings.sign)))
    .where(inArray(findings.placeId, [...ids]))
    .orderBy(findings.placeId, findings.passage, findings.start);
}

/** The passages of live texts by page. */
export async function passagesFor(tx: Tx, ids: readonly string[]): Promise<Map<string, Passage[]>> {
  if (ids.length === 0) return new Map();
  const rows = await tx
    .select({ id: pages.placeId, body: versions.body })
    .from(pages)
    .innerJoin(versions, and(eq(versions.placeId, pages.placeId), sql`${versions.major} = ${pages.liveMajor} and ${versions.minor} = 0`))
    .where(inArray(pages.placeId, [...ids]));
  return new Map(rows.map(({ id, body }) => [id, passagesOf(body)]));
}

/** So many signs are told before the first find of a passage and after its last. */
const AROUND = 160;
/** So many signs of a passage at most. */
const LONGEST = 900;

const isLow = (text: string, at: number): boolean => /[\udc00-\udfff]/.test(text[at] ?? "");

/** So much of a passage as stands around what was found in it; all of a short one. Signs of two units are not cut apart. */
export function excerpt(nth: number, { text }: Passage, found: readonly Found[], names: Names): FoundPassage {
  const [first, last] = [found[0]?.start ?? 0, found.at(-1)?.end ?? 0];
  let from = text.length <= LONGEST ? 0 : Math.max(0, first - AROUND);
  let to = text.length <= LONGEST ? text.length : Math.min(text.length, Math.max(last + AROUND, from + AROUND), from + LONGEST);
  if (isLow(text, from)) from--;
  if (isLow(text, to)) to++;
  const told = `${from > 0 ? "… " : ""}${text.slice(from, to)}${to < text.length ? " …" : ""}`;
  const shift = (from > 0 ? 2 : 0) - from;
  return {
    nth,
    text: told,
    finds: found
      .filter(({ start }) => start < to)
      .map(
        ({ sign, kind, start, end, by, at, reason }): MarkedFind => ({
          sign,
          kind,
          start: start + shift,
          end: Math.min(end, to) + shift,
          aside: by !== null && at ? { by: names.person(by), at: at.toISOString(), reason: reason ?? "" } : null,
        }),
      ),
  };
}

/** So many passages stand before and after each. */
const BESIDE = 3;
const MOST_AROUND = 120;

/** The findings of a page with what stands around them. */
export const readFindingsAround = (asker: string, id: string): Promise<FindingsAround> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, id);
    need(access, me, "setAside", place);
    if (outsideReaders(access, place) === null) throw notThere();
    if (!mayRead(access, me, place)) throw refused("The text of this page is not open to you.");
    const found = await foundIn(tx, [id]);
    const passages = (await passagesFor(tx, [id])).get(id) ?? [];
    const names = namesFor(access, me);
    const wanted = new Set<number>();
    for (const { passage } of found)
      for (let nth = passage - BESIDE; nth <= passage + BESIDE; nth++) if (passages[nth] && wanted.size < MOST_AROUND) wanted.add(nth);
    let before = -1;
    return {
      passages: [...wanted]
        .sort((a, b) => a - b)
        .map((nth) => {
          const gap = nth !== before + 1;
          before = nth;
          const here = found.filter(({ passage }) => passage === nth);
          return { ...excerpt(nth, passages[nth] as Passage, here, names), gap };
        }),
    };
  });
