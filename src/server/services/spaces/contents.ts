/** The contents of a space for whoever arranges them: line by line as readers get them, and what looks wrong. */
import { and, eq, sql } from "drizzle-orm";
import type { ContentsLook } from "../../../contracts/contents.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { READ, type SpaceContents } from "../../../core/access/model/index.ts";
import { CONTENTS_AS_PAGES, type ContentsPage, contentsTroubles } from "../../../core/contents/index.ts";
import { cellOf, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { links, listing, spaces } from "../../db/schema/index.ts";
import { badRequest } from "../../trouble.ts";
import { contentsLines, listedUnder, orderIn } from "../reading/navigation.ts";

/** So many troubles are named; the rest are counted. */
const MOST_TROUBLES = 100;

type Tree = Parameters<typeof listedUnder>[0];

/** Every live page of a space in the order of its tree, with the page it is listed under and what it links to. */
async function pagesOf(tx: Tx, space: CompiledPlace, tree: Tree): Promise<ContentsPage[]> {
  const rows = await tx
    .select({ from: links.placeId, to: links.targetId })
    .from(links)
    .innerJoin(listing, eq(listing.placeId, links.placeId))
    .where(and(eq(listing.spaceId, space.place.id), eq(listing.state, "live"), sql`${links.live}`));
  const linked = new Map<string, string[]>();
  for (const { from, to } of rows) linked.set(from, [...(linked.get(from) ?? []), to]);
  const pages: ContentsPage[] = [];
  const waiting = listedUnder(tree, space).map((page) => ({ page, under: null as string | null }));
  // From the end, so that what is below a page comes directly after it.
  waiting.reverse();
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { id } = next.page.place;
    pages.push({ id, under: next.under, linksTo: linked.get(id) ?? [] });
    waiting.push(
      ...listedUnder(tree, next.page)
        .map((page) => ({ page, under: id }))
        .reverse(),
    );
  }
  return pages;
}

export async function lookAtContents(asker: string, spaceId: string, asked?: SpaceContents): Promise<ContentsLook> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const { index } = access;
    const me = subjectFor(access, asker);
    const space = seenPlace(access, me, spaceId);
    need(access, me, "changeSpace", space);
    const [row] = await tx.select().from(spaces).where(eq(spaces.placeId, spaceId));
    if (!row) throw badRequest("Only a space has contents. Choose the space it is in.");
    const standing = row.contents ?? CONTENTS_AS_PAGES;
    const contents = asked ?? standing;
    const pagesIn = await orderIn(tx, index, space, row.arranged === "name");
    const shown = ({ place: { state } }: CompiledPlace) => state === "live";
    const tree = { pagesIn, shown };
    const outsiders = subjectFor(access, null);
    const lines = contentsLines(index, { ...tree, space, contents, branch: new Set() }).map((line) =>
      line.kind === "page"
        ? {
            kind: line.kind,
            id: line.page.place.id,
            words: line.page.place.title ?? "",
            depth: line.depth,
            outside: (cellOf(access, outsiders, line.page) & READ) !== 0,
          }
        : { kind: line.kind, id: "", words: line.words, depth: line.depth, outside: false },
    );
    const pages = await pagesOf(tx, space, tree);
    const troubles = contentsTroubles(contents, pages, row.landingId);
    // What left the space is not this keeper's to know: only what is in it is called by its name.
    const titleOf = (id: string) => {
      const page = placeOf(index, id);
      return page?.space === space.number ? (page.place.title ?? "") : "";
    };
    const entries = [...standing.entries, ...contents.entries];
    return {
      title: space.place.title ?? "",
      address: row.slug,
      standing,
      byName: row.arranged === "name",
      landing: row.landingId === null ? null : { id: row.landingId, name: titleOf(row.landingId) },
      titles: Object.fromEntries(entries.flatMap((entry) => ("page" in entry ? [[entry.page, titleOf(entry.page)]] : []))),
      lines,
      more: contents.rest ? Math.max(0, pages.length - lines.filter(({ kind }) => kind === "page").length) : 0,
      troubles: troubles.slice(0, MOST_TROUBLES).map((trouble) => ({ trouble, title: "page" in trouble ? titleOf(trouble.page) : "" })),
      troublesMore: Math.max(0, troubles.length - MOST_TROUBLES),
    };
  });
}
