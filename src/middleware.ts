/** For every request: where it comes from, who asks, which theme; and whatever goes wrong is answered without saying what it was about. */
import { defineMiddleware } from "astro:middleware";
import { demoPeople, visitOf } from "./server/accounts/session.ts";
import { surviveLostConnections } from "./server/db/client.ts";
import { canBeAsked, canName } from "./server/http/border.ts";
import { answerTrouble } from "./server/http/endpoint.ts";
import { bearsToken, checkOrigin } from "./server/http/origin.ts";
import { troublePage } from "./server/http/troublePage.ts";
import { startUpkeep } from "./server/upkeep/upkeep.ts";

surviveLostConnections();
startUpkeep();

/** A zone a cookie told, if there is such a zone. */
function knownZone(name: string | undefined): string | undefined {
  if (!name || name.length > 60) return undefined;
  try {
    return new Intl.DateTimeFormat("en", { timeZone: name }).resolvedOptions().timeZone;
  } catch {
    return undefined;
  }
}

let demo: boolean | undefined;

/** Whether a path answers programs and scripts, not people: its refusals are JSON. */
const isData = (path: string): boolean => /^\/(api|access|\.well-known)\//.test(path);

export const onRequest = defineMiddleware(async (context, next) => {
  const { locals, request, cookies, url, params } = context;
  try {
    locals.client ??= "unknown";
    // A program says who it is by its token, which the endpoint checks: there is no visitor to look up, and no browser.
    const byToken = bearsToken(request) && url.pathname.startsWith("/access/");
    if (!byToken) checkOrigin(request);
    demo ??= (await demoPeople()).length > 0;
    locals.demo = demo;
    Object.assign(locals, byToken ? { me: null, session: null, siteName: "" } : await visitOf(request.headers));
    const theme = cookies.get("theme")?.value;
    locals.theme = theme === "dark" || theme === "light" ? theme : null;
    locals.zone = knownZone(cookies.get("zone")?.value);
    const answers = canName(params) && (isData(url.pathname) || canBeAsked(url));
    const response = answers ? await next() : await context.rewrite("/404");
    // Search engines list what says so of itself, and nothing else.
    if (!locals.listed && !response.headers.has("x-robots-tag")) response.headers.set("x-robots-tag", "noindex");
    if (!response.headers.has("cache-control")) response.headers.set("cache-control", "private, no-store");
    return response;
  } catch (error) {
    return isData(url.pathname) ? answerTrouble(error) : troublePage(error);
  }
});
