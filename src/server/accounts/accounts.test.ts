/** Who is asking: attempts at signing in, sessions that end, passwords set on the server. */
import { eq } from "drizzle-orm";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../test/database.ts";
import { holds } from "../../../test/holds.ts";
import type { Person } from "../../core/access/model/index.ts";
import { database, inChange, inSnapshot } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { session } from "../db/schema/index.ts";
import { verifyLedger } from "../ledger/chain.ts";
import { foundSite } from "../services/accounts/founding.ts";
import { setPassword } from "../services/accounts/password.ts";
import { makeChange } from "../services/change/apply.ts";
import { applyDocument, planDocument } from "../services/house/exchange.ts";
import { exportDocument } from "../services/programs/exports/access.ts";
import type { Trouble } from "../trouble.ts";
import { networkOf } from "./attempts.ts";
import { auth } from "./auth.ts";
import { openSessionOf } from "./openSession.ts";
import { addAccount, hashOfPassword, signIn, visitOf } from "./session.ts";

let keeper = "";
const PASSWORD = "a password of length";

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: PASSWORD });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
  for (const id of ["ben", "cleo", "dan"]) {
    await change({ id, name: id, kind: "member", status: "active" });
    const passwordHash = await hashOfPassword(PASSWORD);
    await inChange((tx) => addAccount(tx, { id, name: id, email: `${id}@here.invalid`, passwordHash }));
  }
});

const change = async (put: Person) => {
  const known = (await inSnapshot((tx) => loadDocument(tx))).people.find(({ id }) => id === put.id);
  return inChange((tx) =>
    makeChange(tx, {
      maker: keeper,
      edits: [{ kind: "person", person: put.id, ...(known ? { remove: known } : {}), put }],
      act: "rules",
      note: "",
    }),
  );
};

/** Signs in as a browser would, keeping its cookies. */
class Browser {
  private readonly cookies = new Map<string, string>();

  constructor(readonly address: string) {}

  get headers(): Headers {
    return new Headers({ cookie: [...this.cookies].map(([name, value]) => `${name}=${value}`).join("; ") });
  }

  async signIn(who: string, password = PASSWORD): Promise<number> {
    try {
      const answer = await signIn(`${who}@here.invalid`, password, this.address, this.headers);
      for (const cookie of answer.headers.getSetCookie()) {
        const [pair = ""] = cookie.split(";");
        this.cookies.set(pair.slice(0, pair.indexOf("=")), pair.slice(pair.indexOf("=") + 1));
      }
      return 200;
    } catch (error) {
      return (error as Trouble).status;
    }
  }

  who = async (): Promise<string | null> => (await visitOf(this.headers)).me?.id ?? null;
}

const sessionsOf = async (id: string) => (await database().select().from(session).where(eq(session.userId, id))).length;

describe("attempts", () => {
  it("at one account are counted over all addresses, and lock nobody out: a known browser and any fresh address still get in", async () => {
    const own = new Browser("198.51.100.7");
    expect(await own.signIn("ben")).toBe(200);
    const statuses: number[] = [];
    for (let i = 0; i < 50; i++) statuses.push(await new Browser(`203.0.113.${i}`).signIn("ben", `wrong ${i}`));
    expect(statuses.slice(0, 40).every((it) => it === 401)).toBe(true);
    // From many addresses, each has a few tries left and no more.
    const one = new Browser("203.0.113.200");
    const tries = [];
    for (let i = 0; i < 6; i++) tries.push(await one.signIn("ben", `wrong ${i}`));
    expect(tries.filter((it) => it === 401).length).toBeLessThanOrEqual(2);
    expect(tries.at(-1)).toBe(429);
    expect(await own.signIn("ben")).toBe(200);
    expect(await new Browser("192.0.2.9").signIn("ben")).toBe(200);
  });

  it("many at once do not slip through, at one account or from one address at many", async () => {
    const burst = new Browser("198.51.100.50");
    const statuses = await Promise.all(Array.from({ length: 30 }, (_, i) => burst.signIn("cleo", `wrong ${i}`)));
    expect(statuses.filter((it) => it === 401).length).toBeLessThanOrEqual(8);
    const spray = new Browser("198.51.100.51");
    const sprayed = [];
    for (let i = 0; i < 46; i++) sprayed.push(await spray.signIn(`nobody${i}`, "wrong"));
    expect(sprayed.at(-1)).toBe(429);
    expect(networkOf("2001:db8:1:2:3:4:5:6")).toBe(networkOf("2001:db8:1:2:ffff::1"));
  });
});

describe("sessions", () => {
  it("end with the one that replaces them, and all of them with a suspension, in the same change, whichever way it comes", async () => {
    const browser = new Browser("192.0.2.20");
    await browser.signIn("dan");
    const before = browser.headers;
    await browser.signIn("dan");
    expect([await browser.who(), (await visitOf(before)).me]).toEqual(["dan", null]);

    await change({ id: "dan", name: "dan", kind: "member", status: "suspended" });
    expect([await sessionsOf("dan"), await browser.who(), await browser.signIn("dan"), await sessionsOf("dan")]).toEqual([0, null, 403, 0]);
    await change({ id: "dan", name: "dan", kind: "member", status: "active" });
    expect(await browser.signIn("dan")).toBe(200);

    const document = JSON.parse(JSON.stringify(await exportDocument()));
    document.people.find(({ id }: Person) => id === "dan").status = "suspended";
    const { preview } = await planDocument(keeper, document);
    await applyDocument(keeper, { document, note: "", seen: preview?.seen ?? "" });
    expect([await sessionsOf("dan"), await browser.who()]).toEqual([0, null]);
  });

  it("are read from a cookie as the accounts library reads it, asked the first time or again, forged, over, or extended", async () => {
    const [one, other] = [new Browser("192.0.2.22"), new Browser("192.0.2.23")];
    await one.signIn("ben");
    await other.signIn("cleo");
    const cookieOf = ({ headers }: Browser) => (headers.get("cookie") ?? "").split("; ").find((it) => it.includes("session_token")) ?? "";
    const [token = "", signature = ""] = cookieOf(one).split("=").slice(1).join("=").split(".");
    const name = cookieOf(one).split("=")[0] ?? "";
    const othersToken = cookieOf(other).split("=").slice(1).join("=").split(".")[0] ?? "";
    const forged = fc.oneof(
      fc.constantFrom(`${othersToken}.${signature}`, `${token}.`, token, `.${signature}`, `${token}.${signature}.${signature}`, ""),
      fc.nat(token.length - 1).map((at) => `${token.slice(0, at)}${token[at] === "x" ? "y" : "x"}${token.slice(at + 1)}.${signature}`),
      fc.nat(20).map((at) => `${token}.${signature.slice(0, at)}${signature[at] === "A" ? "B" : "A"}${signature.slice(at + 1)}`),
    );
    const byLibrary = async (headers: Headers) => (await auth().api.getSession({ headers }))?.user.id ?? null;
    const both = async (cookie: string) => {
      const headers = new Headers({ cookie });
      return [(await openSessionOf(headers))?.person ?? null, (await openSessionOf(headers))?.person ?? null, await byLibrary(headers)];
    };
    expect(await both(cookieOf(one))).toEqual(["ben", "ben", "ben"]);
    await holds(
      fc.asyncProperty(forged, async (value) => {
        expect(await both(cookieOf(one))).toEqual(["ben", "ben", "ben"]);
        expect([value, ...(await both(`${name}=${value}`))]).toEqual([value, null, null, null]);
      }),
      { runs: 60 },
    );
    // One that was used a while ago is extended by being used; one that is over is over.
    const soon = new Date(Date.now() + 60_000);
    const own = eq(session.id, (await openSessionOf(one.headers))?.id ?? "");
    await database()
      .update(session)
      .set({ expiresAt: soon, updatedAt: new Date(0) })
      .where(own);
    expect((await openSessionOf(one.headers))?.person).toBe("ben");
    const [extended] = await database().select().from(session).where(own);
    expect((extended?.expiresAt.getTime() ?? 0) > soon.getTime()).toBe(true);
    await database()
      .update(session)
      .set({ expiresAt: new Date(Date.now() - 1_000) })
      .where(own);
    expect(await both(cookieOf(one))).toEqual([null, null, null]);
  });

  it("end when somebody's last day is over, though nobody changes anything", async () => {
    await change({ id: "dan", name: "dan", kind: "member", status: "active", until: new Date(Date.now() + 1_500).toISOString() });
    const browser = new Browser("192.0.2.21");
    expect([await browser.signIn("dan"), await browser.who()]).toEqual([200, "dan"]);
    await new Promise((later) => setTimeout(later, 1_600));
    expect([await browser.who(), await sessionsOf("dan"), await browser.signIn("dan")]).toEqual([null, 0, 403]);
  });
});

it("a password set on the server lets in with the new one alone, ends sessions, and stands in the ledger without a word of it", async () => {
  const browser = new Browser("192.0.2.30");
  await browser.signIn("ada");
  await expect(setPassword("ada@here.invalid", "short")).rejects.toThrow("12 characters");
  await expect(setPassword("nobody@here.invalid", "a long enough one")).rejects.toThrow("Nobody here");
  await setPassword("Ada@Here.invalid", "another long password");
  expect([await browser.who(), await browser.signIn("ada"), await browser.signIn("ada", "another long password")]).toEqual([
    null,
    401,
    200,
  ]);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});
