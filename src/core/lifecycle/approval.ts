/**
 * Approval (lifecycle.md, "Approval"): where a space asks for it, one version is approved by somebody with `publish` who wrote
 * none of the words that would go live anew by it.
 */
import { may, standingAt } from "../access/authority/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, isActive } from "../access/index/index.ts";
import type { Instant } from "../access/model/index.ts";
import type { PageBody } from "../content/index.ts";

/** A version as somebody wrote it; null: Tesoro itself. */
export interface Written {
  title: string;
  body: PageBody;
  author: string | null;
}

export type Authors = ReadonlySet<string | null>;

/** What a version says, in parts that are compared one by one: its title, each of its blocks by its id, and in which order they stand. */
function partsOf({ title, body }: Pick<Written, "title" | "body">): Map<string, string> {
  const blocks = body.content.map((block, i) => [`block ${block.attrs?.id ?? i}`, JSON.stringify(block)] as const);
  return new Map([["title", title], ...blocks, ["order", blocks.map(([id]) => id).join()]]);
}

/**
 * Who wrote any of the words that are new: `before` is what was approved last, or what readers have (null: nothing yet), `since`
 * the versions on top of it in order, the last of which would go live. Whoever changed a part, or took it away, that differs
 * between the two is among them; whose words did not last is not.
 */
export function authorsOfNew(before: Pick<Written, "title" | "body"> | null, since: readonly Written[]): Authors {
  const last = since.at(-1);
  if (!last) return new Set();
  const first = before ? partsOf(before) : new Map<string, string>();
  const then = partsOf(last);
  const changed = [...new Set([...first.keys(), ...then.keys()])].filter((part) => first.get(part) !== then.get(part));
  const authors = new Set<string | null>();
  let earlier = first;
  for (const version of since) {
    const now = partsOf(version);
    if (changed.some((part) => earlier.get(part) !== now.get(part))) authors.add(version.author);
    earlier = now;
  }
  return authors;
}

/** Everybody who may approve at an instant (milliseconds since the epoch) what these wrote: active people who may publish it and wrote none of it. */
export const ableToApprove = (index: AccessIndex, place: CompiledPlace, authors: Authors, at: Instant): CompiledSubject[] =>
  index.subjects.filter(
    (it) =>
      it.person !== null && isActive(it, at) && !authors.has(it.person.id) && may("approve", standingAt(index, it, place, at)) === null,
  );
