/** Seeing somebody off: all that is theirs goes where it was said, they are out, and taking it back brings everything back. */
import { sql } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { type AccessDocument, fenceKey, grantKey, principalKey } from "../../../core/access/model/index.ts";
import { readAccess } from "../../access/current.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { flags, invitations, passLinks, schedules, tokens } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { invite, lookAtInvitation } from "../inviting/inviting.ts";
import { raiseFlag } from "../review/settling.ts";
import { ERASED, erasePerson } from "./erasePerson.ts";
import { leave, lookAtLeaving, readLeaving, readReplacing } from "./leaving.ts";
import { readTurning } from "./turning.ts";

onDatabase("demo");

const document = () => inSnapshot((tx) => loadDocument(tx));
/** Whose is what, besides the document. */
const held = () =>
  inSnapshot(async (tx) => ({
    passes: (await tx.select({ id: passLinks.passId, by: passLinks.by }).from(passLinks)).map((it) => `${it.id} ${it.by}`).sort(),
    invitations: (await tx.select({ id: invitations.personId, by: invitations.by }).from(invitations))
      .map((it) => `${it.id} ${it.by}`)
      .sort(),
    tokens: (await tx.select({ id: tokens.id, by: tokens.madeBy }).from(tokens)).map((it) => `${it.id} ${it.by}`).sort(),
    flags: (await tx.select({ id: flags.id, to: flags.to }).from(flags)).map((it) => `${it.id} ${it.to}`).sort(),
    schedules: (await tx.select({ id: schedules.placeId, by: schedules.by }).from(schedules)).map((it) => `${it.id} ${it.by}`).sort(),
  }));
/** A document whatever order its lists are in. */
const plain = ({ people, places, groups, ...rest }: AccessDocument) => ({
  ...rest,
  people: [...people].sort((a, b) => (a.id < b.id ? -1 : 1)),
  groups: groups.map((group) => ({ ...group, members: group.members.map(principalKey).sort() })),
  places: places.map((place) => ({ ...place, grants: place.grants.map(grantKey).sort(), fences: place.fences.map(fenceKey).sort() })),
});
const named = (text: unknown, id: string): number => JSON.stringify(text).split(`"person":"${id}"`).length - 1;

it("hands on what they own, what names them and what they hold, line by line, in one change that is taken back as one", async () => {
  await raiseFlag("mei", { places: ["cranes"], kind: "incomplete", note: "Crane 5 is missing.", to: "maren" });
  const before = { document: plain(await document()), held: await held() };
  const person = await readLeaving("ines", "maren");
  expect(person.alone.map(({ id }) => id)).toEqual(["quays"]);
  expect(person.lines.map(({ key }) => key)).toEqual(expect.arrayContaining(["owns:quays", "named:quays", "invitations", "flags"]));
  const order = { to: "jonas", lines: [{ key: "invitations", to: "ines" }], until: null };
  expect([await status(lookAtLeaving("jonas", "maren", order)), await status(readLeaving("viktor", "maren"))]).toEqual([403, 403]);
  const { seen, refusals } = await lookAtLeaving("ines", "maren", order);
  expect(refusals).toEqual([]);
  const { seq } = await leave("ines", "maren", { ...order, note: "To another harbour.", seen });
  const after = await document();
  expect(after.places.filter(({ owner, state }) => owner === "maren" && state !== "binned")).toEqual([]);
  expect([named(after.places, "maren"), after.people.find(({ id }) => id === "maren")?.status]).toEqual([0, "suspended"]);
  expect(after.places.find(({ id }) => id === "quays")?.grants).toContainEqual(expect.objectContaining({ to: { person: "jonas" } }));
  for (const list of [(await held()).invitations, (await held()).flags]) expect(list.filter((it) => it.endsWith(" maren"))).toEqual([]);
  // What was seen is what is done: a second time there is something else to see.
  expect(await status(leave("ines", "maren", { ...order, note: "", seen }))).toBeGreaterThanOrEqual(400);
  await takeBack("ines", seq, { note: "", seen: (await previewTakeBack("ines", seq)).seen });
  expect({ document: plain(await document()), held: await held() }).toEqual(before);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});

it("refuses successors who cannot take over, lines that are not theirs, a last day behind, and the last key", async () => {
  const order = (part: object) => ({ to: null, lines: [], until: null, ...part });
  for (const to of ["dora", "maren", "nobody"]) expect(await status(lookAtLeaving("ines", "maren", order({ to })))).toBe(400);
  expect(await told(lookAtLeaving("ines", "maren", order({ lines: [{ key: "owns:nowhere", to: "jonas" }] })))).toContain(
    "not theirs any more",
  );
  expect(await told(lookAtLeaving("ines", "maren", order({ until: "2020-01-01T00:00:00Z" })))).toContain("must lie ahead");
  expect(await status(readLeaving("ines", "nobody"))).toBe(404);
  // Whoever holds the last key leaves only once it goes to somebody.
  const site = (await document()).places.find(({ kind }) => kind === "site");
  const keepers = (site?.grants ?? []).flatMap(({ to, abilities }) => ("person" in to && abilities.includes("govern") ? [to.person] : []));
  for (const id of keepers.filter((it) => it !== "ines")) {
    const { seen } = await lookAtLeaving("ines", id, order({ to: "ines" }));
    await leave("ines", id, { to: "ines", lines: [], until: null, note: "", seen });
  }
  expect((await lookAtLeaving("ines", "ines", order({}))).refusals.map(({ code }) => code)).toContain("lastKey");
  expect((await lookAtLeaving("ines", "ines", order({ until: "2031-01-01T00:00:00Z" }))).refusals.map(({ code }) => code)).toContain(
    "lastKey",
  );
  expect((await lookAtLeaving("ines", "ines", order({ to: "jonas" }))).refusals).toEqual([]);
});

it("replaces one person by another wherever rules, groups and pledges name them", async () => {
  const { edits } = await readReplacing("ines", "viktor", "noor");
  expect([await status(readReplacing("maren", "viktor", "noor")), await status(readReplacing("ines", "viktor", "viktor"))]).toEqual([
    403, 400,
  ]);
  const was = await document();
  await inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "", reason: "Noor takes over." }));
  const is = await document();
  const naming = (it: typeof is, id: string) => named([it.places, it.groups, it.pledges], id);
  expect([naming(is, "viktor"), naming(is, "noor") >= naming(was, "viktor"), naming(was, "viktor") > 0]).toEqual([0, true, true]);
});

it("turns a member into a guest, with what no guest may hold by name, and back", async () => {
  const { edits } = await readTurning("ines", "sorin");
  expect([await status(readTurning("maren", "sorin")), await status(readTurning("ines", "nobody"))]).toEqual([403, 404]);
  const was = plain(await document());
  const { seq } = await inChange((tx) =>
    makeChange(tx, { maker: "ines", edits, act: "rules", note: "", reason: "Works for a contractor now." }),
  );
  const { people, places } = await document();
  expect(people.find(({ id }) => id === "sorin")?.kind).toBe("guest");
  const held = places.flatMap(({ grants }) => grants.filter(({ to }) => "person" in to && to.person === "sorin"));
  expect([held.length > 0, held.some(({ abilities }) => abilities.includes("govern") || abilities.includes("admit"))]).toEqual([
    true,
    false,
  ]);
  await takeBack("ines", seq, { note: "", seen: (await previewTakeBack("ines", seq)).seen, reason: "Back again." });
  expect(plain(await document())).toEqual(was);
  // The last key does not go to a guest.
  const turned = (await readTurning("ines", "ines")).edits;
  expect(await status(inChange((tx) => makeChange(tx, { maker: "ines", edits: turned, act: "rules", note: "", reason: "x" })))).toBe(403);
});

it("erases the name and address of somebody who has left from every table, and the ledger still verifies", async () => {
  const order = {
    kind: "guest" as const,
    people: [{ name: "Xaver Quistorp", email: "xaver.quistorp@there.invalid" }],
    places: ["berthplan"],
    groups: [],
    level: 1 as const,
    until: new Date(Date.now() + 9e8).toISOString(),
  };
  const { preview } = await lookAtInvitation("ines", order);
  const { people } = await invite("ines", { ...order, message: "Dear Xaver", note: "", seen: preview.seen });
  const id = people[0]?.id ?? "";
  const erase = (name: string) => status(erasePerson("ines", id, { name, note: "" }));
  expect(await erase("Xaver Quistorp")).toBe(400);
  const { seen } = await lookAtLeaving("ines", id, { to: null, lines: [], until: null });
  const { seq } = await leave("ines", id, { to: null, lines: [], until: null, note: "", seen });
  expect([await erase("Xaver"), await status(erasePerson("maren", id, { name: "Xaver Quistorp", note: "" }))]).toEqual([400, 403]);
  expect(await erase("Xaver Quistorp")).toBe(200);
  expect(await erase("Xaver Quistorp")).toBe(400);
  const tables = await database().execute<{ name: string }>(
    sql`select table_name as name from information_schema.tables where table_schema = 'public'`,
  );
  for (const { name } of tables) {
    const rows = await database().execute<{ it: string }>(
      sql`select t::text as it from ${sql.identifier(name)} t where t::text ~* 'quistorp|dear xaver'`,
    );
    expect([name, rows.map(({ it }) => it)]).toEqual([name, []]);
  }
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  const { index } = await inSnapshot((tx) => readAccess(tx));
  expect(index.document.people.find((it) => it.id === id)?.name).toBe(ERASED);
  // What came before cannot be taken back into being.
  expect(await status(previewTakeBack("ines", seq))).toBeGreaterThanOrEqual(400);
});
