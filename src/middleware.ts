/** For every request: who asks, which theme, and the headers that keep a page to itself. */
import { defineMiddleware } from "astro:middleware";
import { demoPeople, visitOf } from "./server/accounts/session.ts";
import { surviveLostConnections } from "./server/db/client.ts";
import { startClock } from "./server/services/scheduling.ts";

surviveLostConnections();
startClock();

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

export const onRequest = defineMiddleware(async (context, next) => {
  const { locals, request, cookies } = context;
  demo ??= (await demoPeople()).length > 0;
  locals.demo = demo;
  // A program says who it is by its token, which the endpoint checks: there is no visitor to look up.
  const byToken = request.headers.has("authorization") && context.url.pathname.startsWith("/access/");
  Object.assign(locals, byToken ? { me: null, siteName: "" } : await visitOf(request.headers));
  const theme = cookies.get("theme")?.value;
  locals.theme = theme === "dark" || theme === "light" ? theme : null;
  locals.zone = knownZone(cookies.get("zone")?.value);
  const response = await next();
  const headers = response.headers;
  headers.set("x-content-type-options", "nosniff");
  headers.set("x-frame-options", "DENY");
  headers.set("referrer-policy", "same-origin");
  headers.set("permissions-policy", "camera=(), microphone=(), geolocation=()");
  if (!headers.has("cache-control")) headers.set("cache-control", "private, no-store");
  return response;
});
