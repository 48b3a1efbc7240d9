/**
 * How often somebody may try to sign in. Counted by address, by account and address together, and by account over all
 * addresses; nobody can lock somebody else out: a browser that signed in on an account before is counted by itself, and
 * where an account is under attack every other address still has a few tries of its own.
 */
import { randomBytes, timingSafeEqual } from "node:crypto";
import { isIPv6 } from "node:net";
import { RateLimiterDrizzle, type RateLimiterRes } from "rate-limiter-flexible";
import { database, onLeavingDatabase } from "../db/client.ts";
import { attempts } from "../db/schema/index.ts";
import { keyed } from "../secrets.ts";
import { Trouble } from "../trouble.ts";

const MINUTES = 60;

const limiter = (keyPrefix: string, points: number, duration: number) =>
  new RateLimiterDrizzle({ storeClient: database(), schema: attempts, keyPrefix, points, duration });

function makeLimits() {
  return {
    /** All accounts, from one address. */
    address: limiter("address", 40, 5 * MINUTES),
    /** One account, from one address or one browser that is known on it. */
    pair: limiter("pair", 8, 5 * MINUTES),
    /** One account, from everywhere it is not known; beyond that, `strict` counts for each address. */
    account: limiter("account", 40, 15 * MINUTES),
    strict: limiter("strict", 2, 15 * MINUTES),
    /** New passwords asked for: from one network, and for one address. */
    asking: limiter("asking", 20, 30 * MINUTES),
    askedFor: limiter("askedFor", 3, 30 * MINUTES),
    /** Links tried, from one network. */
    links: limiter("links", 40, 5 * MINUTES),
    /** Pages read by passes, from one network. */
    passes: limiter("passes", 600, 5 * MINUTES),
    /** Flags raised by the public: from one network, and from everywhere. */
    publicFlags: limiter("publicFlags", 5, 60 * MINUTES),
    allPublicFlags: limiter("allPublicFlags", 200, 60 * MINUTES),
  };
}

let made: ReturnType<typeof makeLimits> | undefined;
onLeavingDatabase(() => {
  made = undefined;
});
const limits = () => {
  made ??= makeLimits();
  return made;
};

/** An address as it is counted: of IPv6 the network, since one line has more addresses than anybody can count. */
export const networkOf = (address: string): string => (isIPv6(address) ? address.split(":").slice(0, 4).join(":") : address);

/** The mark of a browser on which somebody signed in on this account. */
export const DEVICE_COOKIE = "tesoro.device";
export const newDevice = (email: string): string => {
  const id = randomBytes(12).toString("base64url");
  return `${id}.${keyed(`device|${id}|${email}`)}`;
};

function isKnown(device: string | null, email: string): boolean {
  const [id = "", mark = ""] = (device ?? "").split(".");
  const [a, b] = [Buffer.from(mark), Buffer.from(keyed(`device|${id}|${email}`))];
  return a.length === b.length && timingSafeEqual(a, b);
}

const TOO_OFTEN = "Too many attempts. Wait a few minutes, then try again.";

/** Takes one try, or throws. Counted before the password is looked at, so that many at once do not slip through. */
async function take(it: RateLimiterDrizzle, key: string, said = TOO_OFTEN): Promise<void> {
  try {
    await it.consume(key);
  } catch (error) {
    if (error instanceof Error) throw error;
    throw new Trouble(429, "tooOften", said);
  }
}

export interface Attempt {
  email: string;
  address: string;
  /** The browser's mark, if it has one. */
  device: string | null;
}

/** Counts an attempt at signing in, and throws where there were too many. Returns what to do once it succeeded. */
export async function countAttempt({ email, address, device }: Attempt): Promise<() => Promise<void>> {
  const { address: byAddress, pair, account, strict } = limits();
  const who = keyed(`account|${email}`);
  const from = keyed(`address|${networkOf(address)}`);
  if (isKnown(device, email)) {
    const key = `${who}|${keyed(device ?? "")}`;
    await take(pair, key);
    return async () => void (await pair.delete(key));
  }
  await take(byAddress, from);
  await take(pair, `${who}|${from}`);
  const whole = (await account.penalty(who)) as RateLimiterRes;
  if (whole.consumedPoints > account.points) await take(strict, `${who}|${from}`);
  return async () => {
    await pair.delete(`${who}|${from}`);
    await byAddress.reward(from);
    await account.reward(who);
  };
}

/** Counts somebody asking for a new password; whether mail may go to the address once more. */
export async function countAsking(email: string, client: string): Promise<boolean> {
  const { asking, askedFor } = limits();
  await take(asking, keyed(`asking|${networkOf(client)}`));
  const asked = (await askedFor.penalty(keyed(`askedFor|${email}`))) as RateLimiterRes;
  return asked.consumedPoints <= askedFor.points;
}

/** Counts a link being tried: guessing one is hopeless, and should not be cheap either. */
export const countLink = (client: string): Promise<void> => take(limits().links, keyed(`links|${networkOf(client)}`));

/** Counts a page being read by a pass. */
export const countPass = (client: string): Promise<void> => take(limits().passes, keyed(`passes|${networkOf(client)}`));

/** Counts a flag raised by somebody who is not signed in. */
export async function countPublicFlag(client: string): Promise<void> {
  const said = "Many pages were flagged within the hour. What you wrote is kept here: try again later.";
  await take(limits().publicFlags, keyed(`publicFlags|${networkOf(client)}`), said);
  await take(limits().allPublicFlags, "all", said);
}
