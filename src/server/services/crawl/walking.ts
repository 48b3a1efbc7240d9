/**
 * One address of this site, asked for as a stranger's program would: no cookie, no script, within bounds of time and size. What it
 * leads to is read off the answer; whether to go there is for the crawl to say.
 */
import { Parser } from "htmlparser2";
import robotsParser from "robots-parser";
import { crawlMark } from "./mark.ts";

/** How a crawl introduces itself; robots.txt is read for this name. */
export const CRAWLER = "TesoroCrawler";

export const BOUNDS = { milliseconds: 10_000, bytes: 5_000_000, hops: 5, links: 5_000, address: 1_000 };

export interface Answered {
  status: number | null;
  noindex: boolean;
  /** Where the answer leads on by itself, in this site. */
  onwards: string | null;
  /** Addresses that its links lead to, in this site, each once. */
  links: string[];
  problem: string | null;
}

const NOTHING: Answered = { status: null, noindex: false, onwards: null, links: [], problem: null };

/**
 * An address as a link gives it, as path and query of this site; null where it leads elsewhere, is no address of the web, holds a
 * name and password, or is longer than any of ours.
 */
export function within(origin: string, base: string, href: string): string | null {
  if (href.length > BOUNDS.address || !URL.canParse(href, base)) return null;
  const url = new URL(href, base);
  if (url.origin !== new URL(origin).origin || url.username !== "" || url.password !== "") return null;
  const address = url.pathname + url.search;
  return address.length > BOUNDS.address ? null : address;
}

/** The text of an answer, so much of it at most. */
async function textOf(response: Response): Promise<{ text: string; whole: boolean }> {
  const decoder = new TextDecoder();
  let [text, bytes] = ["", 0];
  for await (const chunk of (response.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    bytes += chunk.byteLength;
    if (bytes > BOUNDS.bytes) return { text, whole: false };
    text += decoder.decode(chunk, { stream: true });
  }
  return { text: text + decoder.decode(), whole: true };
}

/** What the links of a page say, and whether it says of itself that it is not to be listed or its links not to be followed. */
function readHtml(html: string): { hrefs: string[]; robots: string } {
  const hrefs: string[] = [];
  let robots = "";
  const parser = new Parser({
    onopentag(name, { href, rel, content, ...rest }) {
      if (name === "a" && href !== undefined && !/\bnofollow\b/i.test(rel ?? "")) hrefs.push(href.trim());
      if (name === "meta" && rest.name?.toLowerCase() === "robots") robots += ` ${content ?? ""}`;
    },
  });
  parser.end(html);
  return { hrefs, robots };
}

const ask = (origin: string, address: string): Promise<Response> =>
  fetch(origin + address, {
    redirect: "manual",
    headers: { "user-agent": CRAWLER, ...crawlMark() },
    signal: AbortSignal.timeout(BOUNDS.milliseconds),
  });

/** Why no answer came, in words. */
const unanswered = (error: unknown): string =>
  error instanceof DOMException && error.name === "TimeoutError"
    ? `did not answer whole within ${BOUNDS.milliseconds / 1000} seconds`
    : "could not be reached";

/** Asks for one address of the site and reads what it leads to. Never throws for what the site answers. */
export async function visit(origin: string, address: string): Promise<Answered> {
  try {
    const response = await ask(origin, address);
    const { status, headers } = response;
    const rules = headers.get("x-robots-tag") ?? "";
    const location = headers.get("location");
    if (status >= 300 && status < 400 && location !== null) {
      await response.body?.cancel();
      const onwards = within(origin, origin + address, location);
      return { ...NOTHING, status, onwards, problem: onwards === null ? "leads on to somewhere outside this site" : null };
    }
    if (!/\bhtml\b/.test(headers.get("content-type") ?? "")) {
      await response.body?.cancel();
      return { ...NOTHING, status, noindex: /\bnoindex\b/i.test(rules) };
    }
    const { text, whole } = await textOf(response);
    const { hrefs, robots } = readHtml(text);
    const said = `${rules} ${robots}`;
    const follows = status === 200 && !/\bnofollow\b/i.test(said);
    const links = follows ? [...new Set(hrefs.flatMap((href) => within(origin, origin + address, href) ?? []))] : [];
    return {
      status,
      noindex: /\bnoindex\b/i.test(said),
      onwards: null,
      links: links.slice(0, BOUNDS.links),
      problem: whole ? (links.length > BOUNDS.links ? "has more links than are followed" : null) : "is too large to be read to its end",
    };
  } catch (error) {
    return { ...NOTHING, problem: unanswered(error) };
  }
}

/** What robots.txt lets a crawl ask for; a site without one keeps nothing back. Throws where it does not answer at all. */
export async function readRobots(origin: string): Promise<(address: string) => boolean> {
  const response = await ask(origin, "/robots.txt");
  const { text } = await textOf(response);
  const robots = robotsParser(`${origin}/robots.txt`, response.status === 200 ? text : "");
  return (address) => robots.isAllowed(origin + address, CRAWLER) !== false;
}

/** Addresses of the sitemap, those of its parts too, so many at most. */
export async function readSitemap(origin: string, most: number): Promise<string[]> {
  const found = new Set<string>();
  const files = ["/sitemap.xml"];
  for (let i = 0; i < files.length && i < 100 && found.size < most; i++) {
    const response = await ask(origin, files[i] as string);
    if (response.status !== 200) continue;
    const { text } = await textOf(response);
    let inside: "" | "sitemap" | "url" = "";
    let location = "";
    const parser = new Parser(
      {
        onopentag(name) {
          if (name === "sitemap" || name === "url") inside = name;
          if (name === "loc") location = "";
        },
        ontext(text) {
          location += text;
        },
        onclosetag(name) {
          if (name !== "loc") return;
          const address = within(origin, origin, location.trim());
          if (address === null) return;
          if (inside === "sitemap") files.push(address);
          else if (inside === "url" && found.size < most) found.add(address);
        },
      },
      { xmlMode: true },
    );
    parser.end(text);
  }
  return [...found];
}
