/** How the site knows a visit of its own crawl: it is counted as nobody's. No stranger can make the mark. */
import { timingSafeEqual } from "node:crypto";
import { keyed } from "../../secrets.ts";

const HEADER = "tesoro-crawl";

const mark = (): string => keyed("a visit of the crawl");

export const crawlMark = (): Record<string, string> => ({ [HEADER]: mark() });

export function isOwnCrawl(headers: Headers): boolean {
  const said = Buffer.from(headers.get(HEADER) ?? "");
  const own = Buffer.from(mark());
  return said.length === own.length && timingSafeEqual(said, own);
}
