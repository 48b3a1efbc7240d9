/**
 * Bodies of pages as they go out to somebody and come back. Whatever the door (reading a version, writing, comparing, a draft, a
 * template, a copy), a link to a page that somebody may not know of never shows which page it is.
 */
import { type CompiledSubject, placeOf } from "../../core/access/index/index.ts";
import { type BodyNode, type Mark, type PageBody, pagesLinkedFrom } from "../../core/content/index.ts";
import { type Access, maySee } from "../access/current.ts";
import { gapId, isGapId } from "../access/known.ts";

/** The body with something else for the page of each link; null: the words without the link. */
function relinked(body: PageBody, target: (page: string) => string | null): PageBody {
  const mark = (it: Mark): Mark[] => {
    if (!it.attrs?.page) return [it];
    const page = target(it.attrs.page);
    return page === null ? [] : [{ ...it, attrs: { ...it.attrs, page } }];
  };
  const node = (it: BodyNode): BodyNode => {
    const marks = it.marks?.flatMap(mark) ?? [];
    const { marks: _, ...rest } = it;
    return { ...rest, ...(marks.length > 0 ? { marks } : {}), ...(it.content ? { content: it.content.map(node) } : {}) };
  };
  return { ...body, content: body.content.map(node) };
}

const isKnown = (access: Access, me: CompiledSubject, page: string): boolean => {
  const place = placeOf(access.index, page);
  return place !== undefined && maySee(access, me, place);
};

/** A body for somebody to read or write: what stands for a hidden page is the same in each version, and leads back to it when saved. */
export const bodyFor = (access: Access, me: CompiledSubject, body: PageBody): PageBody =>
  relinked(body, (page) => (isKnown(access, me, page) ? page : gapId(me, page)));

/** A body that becomes somebody's own, elsewhere: what leads to pages they may not know of is words, and no link any more. */
export const bodyToOwn = (access: Access, me: CompiledSubject, body: PageBody): PageBody =>
  relinked(body, (page) => (isKnown(access, me, page) ? page : null));

/** A body as somebody sends it, with the pages again that something else stood for; `before`: what it was written from. */
export function bodyFrom(access: Access, me: CompiledSubject, body: PageBody, before: PageBody): PageBody {
  const gaps = new Set(pagesLinkedFrom(body).filter(isGapId));
  if (gaps.size === 0) return body;
  const meant = new Map<string, string>();
  const tried = (pages: Iterable<string>) => {
    for (const page of pages) if (gaps.delete(gapId(me, page))) meant.set(gapId(me, page), page);
  };
  tried(pagesLinkedFrom(before));
  // From an older version, or another page: rarely.
  if (gaps.size > 0) tried(access.index.places.map(({ place }) => place.id));
  return relinked(body, (page) => meant.get(page) ?? page);
}
