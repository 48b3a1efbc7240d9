/** Asking people in: what is shown is what they get, links work once and for their address alone, mail tells nobody too much. */
import { eq } from "drizzle-orm";
import { SMTPServer } from "smtp-server";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import type { InviteBody, SendBody } from "../../../contracts/inviting.ts";
import { type Edit, instantAt } from "../../../core/access/model/index.ts";
import { addAccount, hashOfPassword, sessionTokenOf, signIn, visitOf } from "../../accounts/session.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { invitations, mails, notices, onceLinks } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { addNotice } from "../../notices/notices.ts";
import { askForNewPassword, changePassword, endSession, forgotPassword, readSessions, resetPassword } from "../accounts/resetting.ts";
import { bringTable, lookAtTable } from "../bringing/bringing.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readMail, readOutbox } from "../house/outbox.ts";
import { mailOf } from "../notices/kinds.ts";
import { readFrontDoor } from "../reading/frontDoor.ts";
import { readReaderPage } from "../reading/reading.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { publishPage } from "../writing/publishing.ts";
import { startPage } from "../writing/writing.ts";
import { acceptInvitation, readInvitation, takeUpAs } from "./accepting.ts";
import { endInvitation, endUnused, invite, lookAtEnd, lookAtInvitation, moveEnd, readInvitations, sendAgain } from "./inviting.ts";

let keeper = "";
let locks = "";
let page = "";
const DAY = 86_400_000;
const inDays = (days: number) => new Date(Date.now() + days * DAY).toISOString();
const document = () => inSnapshot((tx) => loadDocument(tx));
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));
const person = async (id: string) => (await document()).people.find((it) => it.id === id);
const grantsTo = async (id: string) =>
  (await document()).places.flatMap((place) => place.grants.filter(({ to }) => "person" in to && to.person === id));

/** An order for one guest to read the page, or as it is changed. */
const guest = (email: string, part: Partial<InviteBody> = {}): InviteBody => ({
  kind: "guest",
  people: [{ name: "Gwen Guest", email }],
  places: [page],
  groups: [],
  level: 1,
  until: inDays(30),
  ...part,
});

/** Looks, then sends what was seen; the link, as whoever asked in sees it. */
async function send(maker: string, order: InviteBody, part: Partial<SendBody> = {}) {
  const { preview } = await lookAtInvitation(maker, order);
  const sent = await invite(maker, { ...order, message: "Have a look.", note: "", seen: preview.seen, ...part });
  const [one] = sent.people;
  return { ...sent, id: one?.id ?? "", token: one?.link?.split("/").at(-1) ?? "", link: one?.link ?? "" };
}

const bring = async (table: string) => {
  const { preview } = await lookAtTable(keeper, { table, columns: {} });
  return bringTable(keeper, { table, columns: {}, note: "", seen: preview?.seen ?? "" });
};

onDatabase("empty");
beforeAll(async () => {
  process.env.TESORO_ORIGIN = "https://tesoro.example";
  keeper = (await document()).people[0]?.id ?? "";
  await change(
    { kind: "person", person: "kim", put: { id: "kim", name: "Kim", kind: "member", status: "active" } },
    { kind: "person", person: "lou", put: { id: "lou", name: "Lou", kind: "member", status: "active" } },
    { kind: "group", group: "crew", put: { id: "crew", name: "Crew" } },
  );
  const passwordHash = await hashOfPassword("a password of length");
  await inChange((tx) => addAccount(tx, { id: "lou", name: "Lou", email: "lou@here.invalid", passwordHash }));
  const order = { purpose: "", preset: "closedRoom" as const, publishers: [], writers: [] };
  locks = (await startSpace(keeper, { ...order, title: "Locks", keepers: [{ person: "kim" }] })).id;
  page = (await startPage("kim", { parent: locks, as: "page", title: "How locks open" })).id;
  await publishPage("kim", page, { version: "0.1", note: "" });
});
afterAll(() => {
  delete process.env.TESORO_SMTP;
});

describe("an invitation", () => {
  it("shows what they will see, lets them see just that, and works once, by its link alone", async () => {
    const order = guest("gwen@there.invalid");
    const { sight } = await lookAtInvitation(keeper, order);
    expect(sight).toMatchObject({ spaces: [{ space: { name: "Locks" }, levels: { 1: 1 }, besides: 0 }], besides: [], hidden: 0 });
    const { id, token, link } = await send(keeper, order);
    expect(link.startsWith("https://tesoro.example/join/")).toBe(true);
    expect(await person(id)).toMatchObject({ name: "Gwen Guest", kind: "guest", status: "active" });
    // Looking uses nothing up; neither a forged link nor a password too short does.
    expect(await readInvitation(token, null)).toMatchObject({ email: "gwen@there.invalid", by: "Ada", message: "Have a look." });
    expect(await readInvitation(`${token}x`, null)).toBe(null);
    expect(await status(acceptInvitation(token, "short"))).toBe(400);
    expect(await status(acceptInvitation("forged", "a password of length"))).toBe(404);
    // Two at once: one has it.
    const both = await Promise.all([1, 2].map(() => status(acceptInvitation(token, "a password of length"))));
    expect(both.sort()).toEqual([200, 404]);
    expect([await readInvitation(token, null), await status(acceptInvitation(token, "a password of length"))]).toEqual([null, 404]);
    const door = await readFrontDoor({ me: id, viewpoint: null });
    expect([door.spaces, door.elsewhere.map(({ title }) => title)]).toEqual([[], ["How locks open"]]);
    expect((await readInvitations(keeper)).invitations.find((it) => it.id === id)?.state).toBe("taken");
    expect(await status(sendAgain(keeper, id))).toBe(404);
  });

  it("sent again ends the link before; ended, or not taken up in time, takes them out again with all they were granted", async () => {
    const one = await send(keeper, guest("ona@there.invalid", { groups: ["crew"] }));
    const again = await sendAgain(keeper, one.id);
    expect(await readInvitation(one.token, null)).toBe(null);
    const token = again.link?.split("/").at(-1) ?? "";
    expect((await readInvitation(token, null))?.email).toBe("ona@there.invalid");
    expect([await status(endInvitation("lou", one.id)), await status(endInvitation("lou", "nobody"))]).toEqual([404, 404]);
    await endInvitation(keeper, one.id);
    expect([await readInvitation(token, null), (await person(one.id))?.status, await grantsTo(one.id)]).toEqual([null, "suspended", []]);
    expect((await document()).groups[0]?.members).toEqual([]);
    const two = await send(keeper, guest("tove@there.invalid"));
    await endUnused();
    expect((await person(two.id))?.status).toBe("active");
    await endUnused(instantAt(Date.now() + 15 * DAY));
    expect([await readInvitation(two.token, null), (await person(two.id))?.status, await grantsTo(two.id)]).toEqual([
      null,
      "suspended",
      [],
    ]);
    // Who was suspended meanwhile cannot come in by a link sent before, and what was sent is taken back from the ledger.
    const three = await send(keeper, guest("tria@there.invalid"));
    await takeBack(keeper, three.seq, { note: "", seen: (await previewTakeBack(keeper, three.seq)).seen });
    expect(await status(acceptInvitation(three.token, "a password of length"))).toBe(404);
  });

  it("is refused where it makes no sense: no end, an end behind, the whole site, an address twice, or somebody's already", async () => {
    const cases: [InviteBody, string][] = [
      [guest("x@there.invalid", { until: null }), "A guest has an end"],
      [guest("x@there.invalid", { until: inDays(-1) }), "must lie ahead"],
      [guest("x@there.invalid", { places: ["site"] }), "name the places"],
      [
        guest("x@there.invalid", { people: [1, 2].map(() => ({ name: "X", email: "X@there.invalid " })) }),
        "more than once: x@there.invalid",
      ],
      [guest("x@there.invalid", { places: ["nowhere"] }), "404"],
      [guest("x@there.invalid", { groups: ["nowhere"] }), "group"],
    ];
    for (const [order, says] of cases) expect(await told(lookAtInvitation(keeper, order))).toContain(says);
    const taken = guest("Lou@here.invalid");
    expect((await lookAtInvitation(keeper, taken)).taken).toMatchObject([
      { email: "lou@here.invalid", says: expect.stringContaining("Lou") },
    ]);
    expect(await told(send(keeper, taken).then(() => {}))).toContain("is the address of Lou");
  });
});

it("members are asked in without an end, into groups; who was asked in already, or is suspended, is told of", async () => {
  const member: InviteBody = { ...guest("mem@here.invalid"), kind: "member", places: [], groups: ["crew"], until: null };
  const one = await send(keeper, member);
  expect(await person(one.id)).toMatchObject({ kind: "member", status: "active" });
  expect((await lookAtInvitation(keeper, member)).taken).toMatchObject([{ says: expect.stringContaining("asked in already") }]);
  await acceptInvitation(one.token, "a password of length");
  const now = await person(one.id);
  if (!now) return expect.unreachable();
  await change({ kind: "person", person: one.id, remove: now, put: { ...now, status: "suspended" } });
  expect((await lookAtInvitation(keeper, member)).taken).toMatchObject([{ says: expect.stringContaining("let them back in") }]);
  expect([
    await status(askForNewPassword(keeper, one.id)),
    await status(askForNewPassword(keeper, "nobody")),
    await status(askForNewPassword(keeper, "kim")),
  ]).toEqual([400, 404, 400]);
  const late = await send(keeper, guest("susp@there.invalid"));
  const them = await person(late.id);
  if (!them) return expect.unreachable();
  await change({ kind: "person", person: late.id, remove: them, put: { ...them, status: "suspended" } });
  expect(await told(sendAgain(keeper, late.id))).toContain("suspended");
});

describe("keepers of a space", () => {
  it("bring in guests where the house rules allow it, to what they keep, and learn nothing of addresses", async () => {
    const order = guest("new@there.invalid");
    expect(await status(lookAtInvitation("kim", order))).toBe(403);
    await change({ kind: "house", from: { guestsBySpaceKeepers: false }, to: { guestsBySpaceKeepers: true } });
    for (const bad of [
      { ...order, kind: "member" as const },
      { ...order, groups: ["crew"] },
      { ...order, places: [] },
      guest("x@there.invalid", { places: ["site"] }),
    ])
      expect(await status(lookAtInvitation("kim", bad))).toBeGreaterThanOrEqual(400);
    expect(await status(lookAtInvitation("lou", order))).toBe(404);
    // An address that is somebody's is asked in like any other; whose it is, only its owner gets to know.
    const same = await Promise.all([order, guest("lou@here.invalid")].map(async (it) => (await lookAtInvitation("kim", it)).taken));
    expect(same).toEqual([[], []]);
    const other = await send("kim", guest("lou@here.invalid"));
    expect(await readInvitation(other.token, null)).toMatchObject({ hasAccount: false, isThem: false });
    expect(await status(takeUpAs("kim", other.token))).toBe(404);
    expect((await readInvitation(other.token, "lou"))?.isThem).toBe(true);
    await takeUpAs("lou", other.token);
    expect((await person(other.id))?.status).toBe("suspended");
    expect((await readReaderPage({ me: "lou", viewpoint: null }, "locks", page)).title).toBe("How locks open");
    expect((await readInvitations("lou")).invitations.length).toBe(0);
  });

  it("ask in somebody who came with a table like anybody else: a link handed on makes a guest, never them; who is asked in is known by a table", async () => {
    await bring("mail,name\nrow@here.invalid,Rowan");
    const rowan = (await document()).people.find(({ name }) => name === "Rowan")?.id ?? "";
    const { id, token } = await send("kim", guest("row@here.invalid"));
    expect((await lookAtTable(keeper, { table: "mail,name\nrow@here.invalid,Rowan", columns: {} })).counts).toMatchObject({ added: 0 });
    expect((await readInvitation(token, null))?.hasAccount).toBe(false);
    await acceptInvitation(token, "a password of length");
    expect([(await person(id))?.status, (await grantsTo(id)).length, (await grantsTo(rowan)).length]).toEqual(["active", 1, 0]);
    const answer = await signIn("row@here.invalid", "a password of length", "192.0.2.31", new Headers());
    const headers = new Headers({
      cookie: answer.headers
        .getSetCookie()
        .map((it) => it.split(";")[0])
        .join("; "),
    });
    expect((await visitOf(headers)).me).toMatchObject({ id, kind: "guest" });
    await send("kim", guest("waits@there.invalid"));
    expect((await lookAtTable(keeper, { table: "mail,name\nwaits@there.invalid,Gwen Guest", columns: {} })).counts).toMatchObject({
      added: 0,
      same: 1,
    });
  });

  it("send nothing again once they lost the right to ask in", async () => {
    const { id } = await send("kim", guest("lost@there.invalid"));
    await change({ kind: "house", from: { guestsBySpaceKeepers: true }, to: { guestsBySpaceKeepers: false } });
    expect(await status(sendAgain("kim", id))).toBe(403);
    await change({ kind: "house", from: { guestsBySpaceKeepers: false }, to: { guestsBySpaceKeepers: true } });
    expect(await status(sendAgain("kim", id))).toBe(200);
  });

  it("move the end of guests they brought in, with their grants, and of nobody else", async () => {
    const { id } = await send("kim", guest("end@there.invalid"));
    const until = inDays(10);
    expect([await status(lookAtEnd("lou", id, until)), await status(lookAtEnd("lou", "nobody", until))]).toEqual([404, 404]);
    const { seen } = await lookAtEnd("kim", id, until);
    await moveEnd("kim", id, { until, note: "", seen });
    expect([(await person(id))?.until, (await grantsTo(id)).map((it) => it.until)]).toEqual([until, [until]]);
    const theirs = await send(keeper, guest("his@there.invalid"));
    expect(await status(lookAtEnd("kim", theirs.id, until))).toBe(404);
    // Nor by a bare edit: not the kind, not the status, not somebody else's end.
    const remove = await person(id);
    if (!remove) return expect.unreachable();
    const bare = (put: Partial<typeof remove>) =>
      status(
        inChange((tx) =>
          makeChange(tx, {
            maker: "kim",
            edits: [{ kind: "person", person: id, remove, put: { ...remove, ...put } }],
            act: "rules",
            note: "",
          }),
        ),
      );
    expect([await bare({ kind: "member" }), await bare({ status: "suspended" }), await bare({ name: "Other" })]).toEqual([403, 403, 403]);
  });
});

describe("mail", () => {
  it("is kept in the outbox without working links, told to site keepers alone, and is a file mail programs open", async () => {
    const { token } = await send(keeper, guest("box@there.invalid"));
    const outbox = await readOutbox(keeper);
    const mail = outbox.mails.find(({ to }) => to === "box@there.invalid");
    expect(outbox.sends).toBe(false);
    expect(mail?.body).toContain("How locks open");
    expect(JSON.stringify([outbox, await database().select().from(onceLinks), await database().select().from(notices)])).not.toContain(
      token,
    );
    expect(await status(readOutbox("kim"))).toBe(403);
    const eml = await (await readMail(keeper, mail?.id ?? "")).text();
    expect(eml).toContain("To: box@there.invalid");
    expect([await status(readMail("kim", mail?.id ?? "")), await status(readMail(keeper, "none"))]).toEqual([403, 404]);
  });

  it("goes over SMTP where it is set, with the link in it alone; waits while the server does not answer; and speaks of nothing its reader may not read by then", async () => {
    const got: string[] = [];
    const server = new SMTPServer({
      authOptional: true,
      disabledCommands: ["STARTTLS"],
      onData: (stream, _, done) => {
        let text = "";
        stream.on("data", (part) => {
          text += part;
        });
        stream.on("end", () => {
          got.push(text.replace(/=\r?\n/g, ""));
          done();
        });
      },
    });
    process.env.TESORO_SMTP = "smtp://127.0.0.1:1";
    const { id, link } = await send(keeper, guest("smtp@there.invalid"));
    expect([link, (await readOutbox(keeper)).waiting]).toEqual(["", 1]);
    await new Promise<void>((ready) => void server.listen(0, "127.0.0.1", ready));
    const { port } = server.server.address() as { port: number };
    process.env.TESORO_SMTP = `smtp://127.0.0.1:${port}`;
    // By now they may not read the page any more.
    const [remove] = await grantsTo(id);
    if (!remove) return expect.unreachable();
    await change({ kind: "grant", place: page, remove });
    await mailOf();
    expect(got).toHaveLength(1);
    const token = /\/join\/([\w-]+)/.exec(got[0] ?? "")?.[1] ?? "";
    expect([got[0]?.includes("How locks open"), (await readInvitation(token, null))?.email]).toEqual([false, "smtp@there.invalid"]);
    expect((await readOutbox(keeper)).mails[0]).toMatchObject({ state: "sent", body: expect.not.stringContaining(token) });
    // Whoever was suspended by then gets none.
    await inChange((tx) => addNotice(tx, { kind: "invitation", personId: id, at: new Date() }));
    await endInvitation(keeper, id);
    await mailOf();
    expect(got).toHaveLength(1);
    delete process.env.TESORO_SMTP;
    await new Promise<void>((closed) => server.close(closed));
  });
});

describe("a password", () => {
  const asked = async (email: string) => {
    const before = (await database().select().from(mails).where(eq(mails.to, email))).length;
    await forgotPassword(email, "192.0.2.1");
    for (let i = 0; i < 30; i++) {
      if ((await database().select().from(mails).where(eq(mails.to, email))).length > before) return true;
      await new Promise((later) => setTimeout(later, 20));
    }
    return false;
  };

  it("is asked for by address, for nobody who is not here, and no more than a few times; nobody is told which", async () => {
    const tries = [];
    for (let i = 0; i < 4; i++) tries.push(await asked("lou@here.invalid"));
    expect(tries).toEqual([true, true, true, false]);
    expect([await asked("nobody@here.invalid"), await asked("ona@there.invalid")]).toEqual([false, false]);
  });

  it("is set anew once by its link, ends every session, and changed by oneself ends the others", async () => {
    const [row] = await database().select().from(notices).where(eq(notices.kind, "reset"));
    expect(row?.about).toEqual({});
    expect(await status(askForNewPassword("kim", "lou"))).toBe(403);
    const { link } = await askForNewPassword(keeper, "lou");
    const token = link?.split("/").at(-1) ?? "";
    expect(link).toContain("https://tesoro.example/reset/");
    expect([await status(resetPassword("forged", "another long password")), await status(resetPassword(token, "short"))]).toEqual([
      404, 400,
    ]);
    const both = await Promise.all([1, 2].map(() => status(resetPassword(token, "another long password"))));
    expect(both.sort()).toEqual([200, 404]);
    const cookies = async () => {
      const answer = await signIn("lou@here.invalid", "another long password", "192.0.2.7", new Headers());
      return new Headers({
        cookie: answer.headers
          .getSetCookie()
          .map((it) => it.split(";")[0])
          .join("; "),
      });
    };
    const [here, there] = [await cookies(), await cookies()];
    const own = await sessionTokenOf(here);
    expect((await readSessions("lou", own)).filter((it) => it.here)).toHaveLength(1);
    expect(await status(changePassword("lou", own, "wrong", "a third long password"))).toBe(400);
    await changePassword("lou", own, "another long password", "a third long password");
    expect([(await visitOf(here)).me?.id, (await visitOf(there)).me]).toEqual(["lou", null]);
    const again = async () => {
      const answer = await signIn("lou@here.invalid", "a third long password", "192.0.2.7", new Headers());
      return new Headers({
        cookie: answer.headers
          .getSetCookie()
          .map((it) => it.split(";")[0])
          .join("; "),
      });
    };
    const [one, two] = [await again(), await again()];
    const third = (await readSessions("lou", await sessionTokenOf(one))).find((it) => it.here)?.id ?? "";
    // Nobody ends a session of somebody else by its id.
    await endSession("kim", "", third);
    expect((await visitOf(one)).me?.id).toBe("lou");
    await endSession("lou", own, third);
    expect([(await visitOf(one)).me, (await visitOf(two)).me?.id]).toEqual([null, "lou"]);
    await endSession("lou", own, null);
    expect([(await visitOf(two)).me, (await visitOf(here)).me?.id]).toEqual([null, "lou"]);
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
    expect((await database().select().from(invitations)).length).toBeGreaterThan(5);
  });
});
