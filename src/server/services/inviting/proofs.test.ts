/**
 * Who somebody is, is proven: by a letter that reached their address, by a site keeper's own link for that person, or by signing
 * in. Over whatever sequence of doors, nobody holds an account with rights that somebody else was given.
 */
import { eq, isNotNull } from "drizzle-orm";
import fc from "fast-check";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { holds } from "../../../../test/holds.ts";
import { status } from "../../../../test/status.ts";
import { ABILITIES, type Edit, type Grant } from "../../../core/access/model/index.ts";
import { signIn, visitOf } from "../../accounts/session.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { account, invitations, ledger, notices, user } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { addNotice } from "../../notices/notices.ts";
import { askForNewPassword, resetPassword } from "../accounts/resetting.ts";
import { bringTable, lookAtTable } from "../bringing/bringing.ts";
import { makeChange } from "../change/apply.ts";
import { mailOf } from "../notices/kinds.ts";
import { readPerson } from "../people/person.ts";
import { readJoining } from "../people/sameAddress.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { acceptInvitation, readInvitation } from "./accepting.ts";
import { holdingOf } from "./given.ts";
import { askInKnown, endInvitation, invite, lookAtInvitation, sendAgain } from "./inviting.ts";

onDatabase("empty");

const PASSWORD = "a password of length";
/** Two who keep a space each, and ask guests in to it. */
const HOSTS = ["kim", "nora"];
const spaces: Record<string, string> = {};
let keeper = "";
const document = () => inSnapshot((tx) => loadDocument(tx));
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "So." }));
const until = () => new Date(Date.now() + 30 * 86_400_000).toISOString();

beforeAll(async () => {
  process.env.TESORO_ORIGIN = "https://tesoro.example";
  keeper = (await document()).people[0]?.id ?? "";
  await change(
    ...HOSTS.map((id): Edit => ({ kind: "person", person: id, put: { id, name: id, kind: "member", status: "active" } })),
    { kind: "group", group: "crew", put: { id: "crew", name: "Crew" } },
    { kind: "house", from: { guestsBySpaceKeepers: false }, to: { guestsBySpaceKeepers: true } },
  );
  for (const host of HOSTS) {
    const order = { purpose: "", preset: "closedRoom" as const, publishers: [], writers: [], title: `Of ${host}` };
    spaces[host] = (await startSpace(keeper, { ...order, keepers: [{ person: host }] })).id;
  }
});

const tokenOf = (link: string | null | undefined) => link?.split("/").at(-1) ?? "";

/** One asks an address in to their space; the link, as it is handed to whoever asked. */
async function askIn(host: string, email: string): Promise<{ id: string; token: string }> {
  const order = {
    kind: "guest" as const,
    people: [{ name: email, email }],
    places: [spaces[host] ?? ""],
    groups: [],
    level: 1 as const,
    until: until(),
  };
  const { preview } = await lookAtInvitation(host, order);
  const [one] = (await invite(host, { ...order, message: "", note: "", seen: preview.seen })).people;
  return { id: one?.id ?? "", token: tokenOf(one?.link) };
}

/** A site keeper brings in a table: an address, in a group. */
async function bring(email: string, kind = ""): Promise<void> {
  const table = `mail,name,groups,kind\n${email},${email},Crew,${kind}`;
  const { preview } = await lookAtTable(keeper, { table, columns: {} });
  if (preview) await bringTable(keeper, { table, columns: {}, note: "", seen: preview.seen });
}

/** Who has an account. */
const holders = async () => new Set((await database().select({ id: account.userId }).from(account)).map(({ id }) => id));

/** Takes a link up; whoever has an account by it, if anybody. */
async function takeUp(token: string): Promise<string | null> {
  const before = await holders();
  if ((await status(acceptInvitation(token, PASSWORD))) !== 200) return null;
  return [...(await holders())].find((id) => !before.has(id)) ?? null;
}

async function signedInAs(email: string): Promise<string | undefined> {
  const answer = await signIn(email, PASSWORD, "192.0.2.77", new Headers());
  const cookie = answer.headers.getSetCookie().map((it) => it.split(";")[0]);
  return (await visitOf(new Headers({ cookie: cookie.join("; ") }))).me?.id;
}

it("a link that was handed on never makes somebody who came with a table, before or after, and tells nothing of an address", async () => {
  await bring("here@x.invalid", "member");
  const imported = (await document()).people.find(({ name }) => name === "here@x.invalid")?.id ?? "";
  const [there, free] = [await askIn("kim", "here@x.invalid"), await askIn("kim", "free@x.invalid")];
  const [a, b] = [await readInvitation(there.token, null), await readInvitation(free.token, null)];
  expect({ ...a, name: "", email: "" }).toEqual({ ...b, name: "", email: "" });
  const guest = await takeUp(there.token);
  expect(guest).toBe(there.id);
  // They sign in with the address they were asked in by; the one whose it may be is still nobody's, and asked in by a site keeper.
  expect(await signedInAs("here@x.invalid")).toBe(there.id);
  const own = await takeUp(tokenOf((await askInKnown(keeper, imported)).link));
  expect(own).toBe(imported);
  // Imported after it was asked in: what the import gives is nobody's yet.
  await bring("free@x.invalid");
  expect(holdingOf(await document(), free.id).groups).toEqual(["crew"]);
  const split = (await takeUp(free.token)) ?? "";
  expect(split).not.toBe(free.id);
  const [theirs, waiting] = [holdingOf(await document(), split), holdingOf(await document(), free.id)];
  expect([theirs.grants.map(({ place }) => place), theirs.groups]).toEqual([[spaces.kim], []]);
  expect([waiting.grants, waiting.groups]).toEqual([[], ["crew"]]);
  expect(await takeUp(tokenOf((await askInKnown(keeper, free.id)).link))).toBe(free.id);
});

it("what several say of an address stands side by side; a site keeper's link for a person proves it, and gives nobody else's", async () => {
  const email = "both@x.invalid";
  const [first, second] = [await askIn("kim", email), await askIn("nora", email)];
  expect([await takeUp(first.token), await takeUp(second.token)]).toEqual([first.id, second.id]);
  const link = tokenOf((await askForNewPassword(keeper, first.id)).link);
  await resetPassword(link, PASSWORD);
  const [proven] = await database().select().from(user).where(eq(user.email, email));
  expect([proven?.id, proven?.claimed]).toEqual([first.id, null]);
  expect(await signedInAs(email)).toBe(first.id);
  expect(holdingOf(await document(), first.id).grants.map(({ place }) => place)).toEqual([spaces.kim]);
});

it("site keepers see all who are here under an address, and join them; each keeper sees their own alone", async () => {
  const email = "shared@x.invalid";
  const [kims, noras] = [await askIn("kim", email), await askIn("nora", email)];
  const others = async (asker: string, id: string) => (await readPerson(asker, id)).sameAddress.map((it) => it.id);
  expect([await others(keeper, kims.id), await others(keeper, noras.id)]).toEqual([[noras.id], [kims.id]]);
  for (const host of HOSTS) expect([await others(host, kims.id), await others(host, noras.id)]).toEqual([[], []]);
  expect(await status(readJoining("kim", kims.id, noras.id))).toBe(403);
  const alone = await askIn("kim", "alone@x.invalid");
  for (const other of [alone.id, "nobody", kims.id])
    expect([other, await status(readJoining(keeper, kims.id, other))]).toEqual([other, 404]);
  await change(...(await readJoining(keeper, kims.id, noras.id)).edits);
  const held = (id: string) => document().then((it) => holdingOf(it, id).grants.map(({ place }) => place));
  expect([(await held(kims.id)).sort(), await held(noras.id)]).toEqual([HOSTS.map((host) => spaces[host]).sort(), []]);
  // Whom they were joined with comes in by no link any more; and joined with nobody else.
  expect([await takeUp(noras.token), await others(keeper, kims.id)]).toEqual([null, []]);
});

it("a site keeper's link for somebody who came with a table proves nothing once whoever made it keeps the site no more", async () => {
  await bring("late@x.invalid", "member");
  const id = (await document()).people.find(({ name }) => name === "late@x.invalid")?.id ?? "";
  const site = (await document()).places.find(({ kind }) => kind === "site")?.id ?? "";
  const keeps: Grant = { to: { person: "nora" }, abilities: [...ABILITIES] };
  await change({ kind: "grant", place: site, put: keeps });
  const before = await database().select({ id: notices.id }).from(notices);
  await inChange(async (tx) => {
    // Asked in, and the right lost before the letter is made.
    await tx
      .insert(invitations)
      .values({ personId: id, email: "late@x.invalid", message: "", by: "nora", at: new Date(), until: new Date(until()), seq: 0 });
    await addNotice(tx, { kind: "invitation", personId: id, about: { by: "nora" }, at: new Date() });
  });
  await change({ kind: "grant", place: site, remove: keeps });
  const [made] = await mailOf(
    (await database().select({ id: notices.id }).from(notices)).filter((it) => !before.some((old) => old.id === it.id)).map((it) => it.id),
  );
  expect(await takeUp(tokenOf(made?.link))).toBe(null);
  expect((await holders()).has(id)).toBe(false);
});

it("an invitation that ends takes away what it gave, and nothing that others gave meanwhile", async () => {
  const { id } = await askIn("kim", "ended@x.invalid");
  const grant: Grant = { to: { person: id }, abilities: ["read"], until: until() };
  await change({ kind: "grant", place: spaces.nora ?? "", put: grant }, { kind: "member", group: "crew", put: { person: id } });
  await endInvitation("kim", id);
  const after = await document();
  expect([holdingOf(after, id).grants.map(({ place }) => place), holdingOf(after, id).groups]).toEqual([[spaces.nora], ["crew"]]);
  expect(after.people.find((it) => it.id === id)?.status).toBe("active");
  const alone = await askIn("kim", "alone@x.invalid");
  await endInvitation("kim", alone.id);
  expect((await document()).people.find((it) => it.id === alone.id)?.status).toBe("suspended");
});

const EMAILS = ["p", "q"];
const nth = fc.nat(2);
const step = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({ door: fc.constantFrom("invite" as const), host: fc.constantFrom(...HOSTS), email: fc.constantFrom(...EMAILS) }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      door: fc.constantFrom("import" as const),
      email: fc.constantFrom(...EMAILS),
      kind: fc.constantFrom("", "member", "guest"),
    }),
  },
  { weight: 3, arbitrary: fc.record({ door: fc.constantFrom("takeUp" as const), nth }) },
  {
    weight: 3,
    arbitrary: fc.record({ door: fc.constantFrom("again" as const, "end" as const, "group" as const, "suspend" as const), nth }),
  },
);

it("over random sequences of doors nobody holds more than who handed them their link gave", async () => {
  let world = 0;
  await holds(
    fc.asyncProperty(fc.array(step, { minLength: 5, maxLength: 12 }), async (steps) => {
      const at = (email: string) => `${email}${world}@y.invalid`;
      world++;
      const links: { host: string; id: string; token: string }[] = [];
      const made: { host: string; account: string }[] = [];
      const doors = {
        invite: async ({ host, email }: { host: string; email: string }) => void links.push({ host, ...(await askIn(host, at(email))) }),
        import: ({ email, kind }: { email: string; kind: string }) => bring(at(email), kind),
        takeUp: async (link: (typeof links)[number]) => {
          const account = await takeUp(link.token);
          if (account !== null) made.push({ host: link.host, account });
        },
        again: async (link: (typeof links)[number]) => {
          link.token = tokenOf((await sendAgain(link.host, link.id)).link);
        },
        end: (link: (typeof links)[number]) => endInvitation(link.host, link.id),
        // Whoever keeps the site puts the one who was asked in into a group: of them nobody has proven who they are.
        group: async ({ id }: (typeof links)[number]) => {
          if (!(await holders()).has(id)) await change({ kind: "member", group: "crew", put: { person: id } });
        },
        suspend: async ({ id }: (typeof links)[number]) => {
          const person = (await document()).people.find((it) => it.id === id);
          if (person) await change({ kind: "person", person: id, remove: person, put: { ...person, status: "suspended" } });
        },
      };
      for (const it of steps) {
        const link = "nth" in it ? links[it.nth % Math.max(1, links.length)] : undefined;
        if ("nth" in it && !link) continue;
        await status(Promise.resolve((doors[it.door] as (of: unknown) => Promise<unknown>)("nth" in it ? link : it)).then(() => ({})));
      }
      const now = await document();
      for (const { host, account: id } of made) {
        const { grants, groups } = holdingOf(now, id);
        expect(now.people.find((person) => person.id === id)?.kind).toBe("guest");
        expect([grants.every(({ place }) => place === spaces[host]), groups]).toEqual([true, []]);
      }
      // And whoever came with a table has no account by any of these.
      const brought = await database().select({ edits: ledger.edits }).from(ledger).where(eq(ledger.act, "bringPeople"));
      const imported = new Set(
        brought.flatMap(({ edits }) => edits.flatMap((edit) => (edit.kind === "member" && edit.put ? [JSON.stringify(edit.put)] : []))),
      );
      for (const { account: id } of made) expect(imported.has(JSON.stringify({ person: id }))).toBe(false);
    }),
    { runs: 40, asDrawn: true },
  );
  expect((await database().select().from(user).where(isNotNull(user.claimed))).length).toBeGreaterThan(3);
  expect((await inSnapshot((tx) => verifyLedger(tx))).breaks).toEqual([]);
}, 240_000);
