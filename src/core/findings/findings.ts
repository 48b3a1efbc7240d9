/** What looks sensitive in a page, passage by passage (lifecycle.md, "Before it goes live"; views.md, "Outside"). */
import type { BodyNode, PageBody } from "../content/index.ts";
import { DETECTORS, FINDING_KINDS, type FindingKind, type Span, wordDetector } from "./detectors.ts";

/** A stretch of text that is read as one: a paragraph, a heading, a block of code. */
export interface Passage {
  /** The stable id of its block, where it has one. */
  block: string | null;
  text: string;
  /** Where in it a link leads to an address that is not shown. */
  links: (Span & { href: string })[];
}

export interface Finding extends Span {
  kind: FindingKind;
  /** Number of the passage it stands in, from 0. */
  passage: number;
  /** What was found: the words themselves, or the address behind a link. */
  found: string;
}

const TEXTS: ReadonlySet<string> = new Set(["paragraph", "heading", "codeBlock"]);

function passageOf({ attrs, content = [] }: BodyNode): Passage {
  const links: Passage["links"] = [];
  let text = "";
  for (const node of content) {
    if (node.type === "hardBreak") text += "\n";
    const start = text.length;
    text += node.text ?? "";
    const href = node.marks?.find(({ type }) => type === "link")?.attrs?.href;
    if (href) links.push({ start, end: text.length, href });
  }
  return { block: typeof attrs?.id === "string" ? attrs.id : null, text, links };
}

/** The passages of a body in reading order, whatever they stand in. */
export function passagesOf(body: PageBody): Passage[] {
  const found: Passage[] = [];
  const visit = (node: BodyNode): void => {
    if (TEXTS.has(node.type)) found.push(passageOf(node));
    else node.content?.forEach(visit);
  };
  body.content.forEach(visit);
  return found;
}

/** So many findings of one page are kept: a list of a thousand addresses is found by its first ones. */
export const MOST_IN_PAGE = 200;

/** What is looked for: every kind, and these words of the house. */
export interface Looking {
  find(text: string): { kind: FindingKind; start: number; end: number }[];
}

/** Prepares to look for every kind of finding, and for words of the house; to be used for many pages. */
export function lookFor(words: readonly string[]): Looking {
  const ofWords = wordDetector(words);
  const detectors = FINDING_KINDS.flatMap((kind) => {
    const detect = kind === "word" ? ofWords : DETECTORS[kind];
    return detect ? [{ kind, detect }] : [];
  });
  return {
    find(text) {
      const taken: { kind: FindingKind; start: number; end: number }[] = [];
      for (const { kind, detect } of detectors)
        for (const { start, end } of detect(text).slice(0, MOST_IN_PAGE))
          if (!taken.some((it) => start < it.end && it.start < end)) taken.push({ kind, start, end });
      return taken.sort((a, b) => a.start - b.start);
    },
  };
}

/** The address behind a link as it would be written out: without its scheme, its escapes read. */
function written(href: string): string {
  const address = href.replace(/^(?:mailto|tel):/i, "");
  try {
    return decodeURIComponent(address);
  } catch {
    return address;
  }
}

/**
 * What looks sensitive in the passages of a page, in reading order, the first `MOST_IN_PAGE`: in what is read, and in addresses
 * behind links, which stand where the words of the link do.
 */
export function findingsIn(passages: readonly Passage[], looking: Looking): Finding[] {
  const all: Finding[] = [];
  for (const [passage, { text, links }] of passages.entries()) {
    if (all.length >= MOST_IN_PAGE) break;
    const seen = looking.find(text);
    all.push(...seen.map((it) => ({ ...it, passage, found: text.slice(it.start, it.end) })));
    for (const { start, end, href } of links) {
      const address = written(href);
      if (text.slice(start, end).includes(address) || seen.some((it) => it.start < end && start < it.end)) continue;
      const [first] = looking.find(address);
      if (first) all.push({ kind: first.kind, start, end, passage, found: address.slice(first.start, first.end) });
    }
  }
  return all.slice(0, MOST_IN_PAGE);
}
