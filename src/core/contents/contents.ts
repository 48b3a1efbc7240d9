/** The contents of a space as its readers get them: the tree of its pages, with headings, pinned pages and pinned addresses. */
import type { SpaceContents } from "../access/model/index.ts";

/** A space in whose contents nobody arranged anything: its pages, as they stand. */
export const CONTENTS_AS_PAGES: Readonly<SpaceContents> = { entries: [], rest: true };

/** One line of the contents at the top; what is below a page follows from the tree. */
export type Listed<Page> =
  | { kind: "heading"; words: string }
  | { kind: "link"; words: string; address: string }
  /** `branch`: what is below the page is listed with it. */
  | { kind: "page"; page: Page; branch: boolean };

/**
 * The lines of the contents, in order: what was arranged, then the pages at the top that were not, if `rest` is chosen.
 * A page that is pinned from further below stands alone, since its branch stands where the tree has it. Pages that `find`
 * does not give (gone, or not to be seen) are left out, and so is a heading under which nothing is left: nothing tells of
 * them.
 */
export function arranged<Page>(contents: SpaceContents, top: readonly Page[], find: (id: string) => Page | undefined): Listed<Page>[] {
  const atTop = new Set(top);
  const pinned = new Set<Page>();
  const lines = contents.entries.flatMap((entry): Listed<Page>[] => {
    if ("heading" in entry) return [{ kind: "heading", words: entry.heading }];
    if ("link" in entry) return [{ kind: "link", words: entry.words, address: entry.link }];
    const page = find(entry.page);
    if (page === undefined) return [];
    // Pinned twice, it brings its branch along once.
    const branch = atTop.has(page) && !pinned.has(page);
    pinned.add(page);
    return [{ kind: "page", page, branch }];
  });
  if (contents.rest) lines.push(...top.filter((page) => !pinned.has(page)).map((page) => ({ kind: "page" as const, page, branch: true })));
  return lines.filter((line, i) => line.kind !== "heading" || (lines[i + 1] ?? line).kind !== "heading");
}

/** A live page of a space, as far as its contents go by it. */
export interface ContentsPage {
  id: string;
  /** The page it is listed under; null: at the top. */
  under: string | null;
  /** Pages of the space it links to. */
  linksTo: readonly string[];
}

/** What looks wrong with the contents of a space; `at` is the number of an entry. */
export type ContentsTrouble =
  | { kind: "twice"; page: string; at: number }
  | { kind: "emptyHeading"; at: number }
  | { kind: "gone"; at: number }
  /** No way leads there, neither from what is listed nor from the landing page, by any links. */
  | { kind: "unreachable"; page: string };

/**
 * Points out pages that are listed twice, headings with nothing under them, entries whose page is not there any more, and
 * pages nobody gets to. `pages` are the live pages of the space in the order of their tree; `landing` is where people land.
 */
export function contentsTroubles(contents: SpaceContents, pages: readonly ContentsPage[], landing: string | null): ContentsTrouble[] {
  const { entries, rest } = contents;
  const byId = new Map(pages.map((page) => [page.id, page]));
  const pinned = new Set<string>();
  const troubles = entries.flatMap((entry, at): ContentsTrouble[] => {
    if ("link" in entry) return [];
    if ("heading" in entry) {
      const next = entries.slice(at + 1).find((it) => !("page" in it) || byId.has(it.page));
      const followed = next !== undefined ? !("heading" in next) : rest && pages.some(({ id, under }) => under === null && !pinned.has(id));
      return followed ? [] : [{ kind: "emptyHeading", at }];
    }
    const page = byId.get(entry.page);
    if (!page) return [{ kind: "gone", at }];
    const twice = pinned.has(page.id) || isListedAbove(page, byId, contents);
    pinned.add(page.id);
    return twice ? [{ kind: "twice", page: page.id, at }] : [];
  });
  const reached = reachedFrom(pages, { pinned, landing, rest });
  return [...troubles, ...pages.flatMap(({ id }): ContentsTrouble[] => (reached.has(id) ? [] : [{ kind: "unreachable", page: id }]))];
}

/** Whether a page is listed where the tree has it: the page at the top of its branch is listed. */
function isListedAbove(page: ContentsPage, byId: ReadonlyMap<string, ContentsPage>, { entries, rest }: SpaceContents): boolean {
  if (page.under === null) return false;
  let top = page;
  for (let step: ContentsPage | undefined = page; step; step = step.under === null ? undefined : byId.get(step.under)) top = step;
  return rest || entries.some((entry) => "page" in entry && entry.page === top.id);
}

interface Beginnings {
  pinned: ReadonlySet<string>;
  landing: string | null;
  rest: boolean;
}

/** Every page that can be got to from where people begin, by what is listed and by links. */
function reachedFrom(pages: readonly ContentsPage[], { pinned, landing, rest }: Beginnings): ReadonlySet<string> {
  const byId = new Map(pages.map((page) => [page.id, page]));
  const below = new Map<string, string[]>();
  for (const { id, under } of pages) if (under !== null) below.set(under, [...(below.get(under) ?? []), id]);
  const listed = new Set<string>();
  const reached = new Set<string>();
  const atTop = pages.filter(({ under }) => under === null).map(({ id }) => id);
  // What is listed at the top brings its branch along; what is linked to, itself alone.
  const branches = atTop.filter((id) => rest || pinned.has(id));
  for (let id = branches.pop(); id !== undefined; id = branches.pop()) {
    if (listed.has(id)) continue;
    listed.add(id);
    branches.push(...(below.get(id) ?? []));
  }
  const open = [...listed, ...pinned, ...(landing === null ? [] : [landing])];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const page = byId.get(id);
    if (!page || reached.has(id)) continue;
    reached.add(id);
    open.push(...page.linksTo);
  }
  return reached;
}
