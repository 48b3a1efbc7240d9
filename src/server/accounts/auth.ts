/** Accounts: sign-in with mail and password, sessions in http-only cookies. */
import { betterAuth } from "better-auth";
import { drizzleAdapter } from "better-auth/adapters/drizzle";
import { database, onLeavingDatabase } from "../db/client.ts";
import * as schema from "../db/schema/index.ts";

/** Seconds for which a session lasts, and after which one that is used lasts so long again. */
export const SESSION = { expiresIn: 60 * 60 * 12, updateAge: 60 * 30 };

function make() {
  const secret = process.env.TESORO_SECRET;
  if (!secret)
    throw new Error("TESORO_SECRET is not set: `npm start` makes one; on your own server set it to 32 or more random characters.");
  const baseURL = process.env.TESORO_ORIGIN ?? "http://127.0.0.1:4321";
  // Behind TLS a browser keeps the session for this very host and sends it nowhere without encryption: it goes by the name.
  const isSecure = baseURL.startsWith("https:");
  const cookies = {
    cookiePrefix: isSecure ? "__Host-tesoro" : "tesoro",
    useSecureCookies: false,
    defaultCookieAttributes: { secure: isSecure, path: "/" },
  };
  return betterAuth({
    database: drizzleAdapter(database(), { provider: "pg", schema }),
    secret,
    baseURL,
    basePath: "/accounts",
    // The origin is checked by our own wrapper, against the address the request came to.
    advanced: { disableCSRFCheck: true, ...cookies, database: { generateId: () => crypto.randomUUID() } },
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: 12 },
    session: SESSION,
    // Attempts are counted in `attempts.ts`, by account as well.
    rateLimit: { enabled: false },
    telemetry: { enabled: false },
    // What it would write holds addresses and tokens: what goes wrong is noted where it is answered.
    logger: { disabled: true },
  });
}

let made: ReturnType<typeof make> | undefined;
onLeavingDatabase(() => {
  made = undefined;
});

export function auth(): ReturnType<typeof make> {
  made ??= make();
  return made;
}
