/** How the site knows a visit of its own crawl: it is counted as nobody's. No stranger can make the mark. */
import { createHmac, timingSafeEqual } from "node:crypto";

const HEADER = "tesoro-crawl";

const mark = (): string =>
  createHmac("sha256", process.env.TESORO_SECRET ?? "")
    .update("a visit of the crawl")
    .digest("base64url");

export const crawlMark = (): Record<string, string> => ({ [HEADER]: mark() });

export function isOwnCrawl(headers: Headers): boolean {
  const said = Buffer.from(headers.get(HEADER) ?? "");
  const own = Buffer.from(mark());
  return said.length === own.length && timingSafeEqual(said, own);
}
