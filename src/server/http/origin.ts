/** Changes come from pages of this site, and from programs that show a token. */
import { refused } from "../trouble.ts";

const SAFE = new Set(["GET", "HEAD", "OPTIONS"]);

/** Whether a request says who it is by a token: no browser sends one by itself. */
export const bearsToken = (request: Request): boolean => /^bearer\s+\S/i.test(request.headers.get("authorization") ?? "");

/**
 * A change must come from a page of this site: of the address it is known by, or of the host the request names. Where the site is
 * known by an encrypted address, a page of the same host without encryption may be anybody's on the way.
 */
export function checkOrigin(request: Request): void {
  if (SAFE.has(request.method)) return;
  const origin = request.headers.get("origin") ?? "";
  const { host, protocol } = URL.canParse(origin) ? new URL(origin) : { host: "", protocol: "" };
  const known = process.env.TESORO_ORIGIN ?? "";
  const isAsSafe = protocol === "https:" || !known.startsWith("https:");
  const own = origin === known || (host !== "" && host === request.headers.get("host") && isAsSafe);
  if (!own) throw refused("This request does not come from a page of this site.");
}
