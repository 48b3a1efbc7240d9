/** Services on a real PostgreSQL: the write path, its refusals, history, and what hidden things look like. */

import { sql } from "drizzle-orm";
import { describe, expect, it } from "vitest";
import { onDatabase } from "../../test/database.ts";
import { effectiveSet } from "../core/access/decide/index.ts";
import { parseAccessDocument } from "../core/access/exchange/index.ts";
import { compile, placeOf, subjectOf } from "../core/access/index/index.ts";
import { type AccessDocument, BEFORE_ALL, type Edit, type Grant, instantAt, type Seq } from "../core/access/model/index.ts";
import { presentInstant } from "./clock.ts";
import { database, inSnapshot } from "./db/client.ts";
import { loadDocument } from "./db/document.ts";
import { ledger } from "./db/schema/index.ts";
import { applyChange } from "./services/change/apply.ts";
import { previewChange } from "./services/change/preview.ts";
import { previewTakeBack, takeBack } from "./services/change/takeBack.ts";
import { readGrid } from "./services/grid/grid.ts";
import { checkLedger, readLedger } from "./services/ledger/ledgerView.ts";
import { readFrontDoor } from "./services/reading/frontDoor.ts";
import { readReaderPage } from "./services/reading/reading.ts";
import { stepIn } from "./services/slip/steppingIn.ts";
import { publishPage } from "./services/writing/publishing.ts";
import { readWorking, saveVersion, startPage } from "./services/writing/writing.ts";
import { Trouble } from "./trouble.ts";

onDatabase("demo");

const members = { audience: "members" as const };
const reader = (to: Grant["to"]): Grant => ({ to, abilities: ["read"] });
const gives = (place: string, put: Grant): Edit => ({ kind: "grant", place, put });
const now = () => inSnapshot((tx) => loadDocument(tx));
const newest = async () =>
  (
    await database()
      .select({ seq: sql<Seq>`max(${ledger.seq})::int` })
      .from(ledger)
  )[0]?.seq ?? BEFORE_ALL;

async function change(maker: string, edits: Edit[], reason?: string) {
  const { seen } = await previewChange(maker, edits, []);
  return applyChange(maker, { edits, note: "test", seen, ...(reason ? { reason } : {}) });
}

/** The trouble a promise ends in. */
async function trouble(work: Promise<unknown>): Promise<Trouble> {
  const error = await work.then(
    () => null,
    (it) => it,
  );
  if (!(error instanceof Trouble)) throw new Error(`no trouble, but ${error}`);
  return error;
}

/** Every effective set of a document, as text. */
function matrixOf(document: AccessDocument): string {
  const index = compile(document);
  const at = instantAt(Date.now());
  return index.subjects.map((subject) => index.places.map((place) => effectiveSet(index, subject, place, at)).join()).join("\n");
}

describe("the demo", () => {
  it("is a sound access document with everybody and everything in it", async () => {
    const document = await now();
    const parsed = parseAccessDocument(JSON.parse(JSON.stringify(document)));
    expect(parsed.ok ? [] : parsed.errors).toEqual([]);
    const count = (kind: string) => document.people.filter((person) => person.kind === kind).length;
    expect([count("member"), count("guest"), document.groups.length]).toEqual([60, 20, 14]);
    expect(document.places.filter((place) => place.kind === "space")).toHaveLength(10);
    expect(document.places.filter((place) => place.kind === "page" || place.kind === "bulletin").length).toBeGreaterThanOrEqual(60);
    expect(new Set(document.places.map((place) => place.state))).toEqual(new Set(["live", "draft", "scheduled", "archived", "binned"]));
    expect(await checkLedger("ines")).toMatchObject({ sound: true });
  });
});

describe("a change", () => {
  it("is written with its ledger entry, rebuilt as of any entry, and taken back to the very same access", async () => {
    const kept: { seq: Seq; matrix: string }[] = [{ seq: await newest(), matrix: matrixOf(await now()) }];
    const steps: Edit[][] = [
      [gives("tugs", reader({ audience: "public" }))],
      [{ kind: "stance", place: "ukc", from: "follow", to: "fresh" }, gives("ukc", reader({ group: "pilots" }))],
      [{ kind: "fence", place: "pilotage", put: { kind: "read", admits: [{ group: "pilots" }] } }],
    ];
    const made: Seq[] = [];
    for (const edits of steps) {
      const { seq } = await change("anouk", edits);
      made.push(seq);
      kept.push({ seq, matrix: matrixOf(await now()) });
    }
    expect(new Set(kept.map((it) => it.matrix)).size).toBe(kept.length);
    for (const { seq, matrix } of kept) expect(matrixOf(await inSnapshot((tx) => loadDocument(tx, seq)))).toBe(matrix);
    for (const seq of made.reverse())
      await takeBack("anouk", seq, {
        note: "",
        reason: "She had locked herself out of one of them.",
        seen: (await previewTakeBack("anouk", seq)).seen,
      });
    expect(matrixOf(await now())).toBe(kept[0]?.matrix);
    expect((await trouble(previewTakeBack("anouk", made[0] ?? BEFORE_ALL))).status).toBe(409);
  });

  it("is refused with a sentence, and leaves nothing behind, where its maker may not or the rule cannot be", async () => {
    const before = await newest();
    const refusedBy = async (maker: string, edits: Edit[], reason?: string) => (await trouble(change(maker, edits, reason))).code;
    // A publisher may not change rules; a keeper not those of another space; nobody learns of a hidden place.
    expect(await refusedBy("jonas", [gives("cranes", reader(members))])).toBe("refused");
    expect(await refusedBy("maren", [gives("waterquality", reader({ group: "pilots" }))])).toBe("refused");
    expect(await refusedBy("maren", [gives("patrols", reader(members))])).toBe("notThere");
    expect(await refusedBy("maren", [gives("nosuchplace", reader(members))])).toBe("notThere");
    // Keeper to an audience, a grant to nobody known: not sound.
    expect(await refusedBy("maren", [gives("cranes", { to: members, abilities: ["govern"] })])).toBe("badRequest");
    expect(await refusedBy("maren", [gives("cranes", reader({ person: "nobody" }))])).toBe("badRequest");
    // A pledge stops a space keeper, reason or not; a site keeper overrides it with a reason.
    expect(await refusedBy("ruth", [gives("inquiry12", reader({ audience: "public" }))], "because")).toBe("refused");
    expect(await refusedBy("ines", [gives("inquiry12", reader({ audience: "public" }))])).toBe("refused");
    // The last key, taken from both who hold it.
    const site = (await now()).places.find((place) => place.kind === "site");
    const keys = (site?.grants ?? []).map((grant): Edit => ({ kind: "grant", place: "site", remove: grant }));
    expect(await refusedBy("ines", keys)).toBe("refused");
    // One bad edit among good ones: none of them is made.
    expect(await refusedBy("maren", [gives("cranes", reader({ group: "pilots" })), gives("lessons", reader({ group: "pilots" }))])).toBe(
      "refused",
    );
    expect(await newest()).toBe(before);
  });

  it("that was prepared on older rules is stopped and shows what holds now", async () => {
    const edits = [gives("timberyard", reader({ group: "agents" }))];
    const { seen } = await previewChange("maren", edits, []);
    await change("maren", [{ kind: "fence", place: "timberyard", put: { kind: "read", admits: [members] } }]);
    const error = await trouble(applyChange("maren", { edits, note: "", seen }));
    expect([error.status, error.code]).toEqual([409, "changedMeanwhile"]);
    expect(error.details).toHaveProperty("ripple");
  });

  it("that lets an overseer in is a stepping in: it needs a reason and says so in the ledger", async () => {
    const edits: Edit[] = [{ kind: "stance", place: "rota", from: "follow", to: "fresh" }, gives("rota", reader({ group: "pilots" }))];
    await startPage("anouk", { id: "rota", parent: "pilotage", as: "page", title: "Rota" });
    await publishPage("anouk", "rota", { version: "0.1", note: "" });
    await change("anouk", edits);
    const own = [gives("rota", { to: { person: "anouk" }, abilities: ["read"] })];
    expect((await previewChange("anouk", own, [])).steppingIn).toBe(false);
    const letIn = [gives("rota", { to: { person: "tomasz" }, abilities: ["read"] })];
    expect((await trouble(change("tomasz", letIn))).message).toContain("stepping in");
    await change("tomasz", letIn, "The keeper is ill.");
    expect((await readLedger("ines", { place: "rota" })).lines[0]).toMatchObject({ steppingIn: true, who: "Tomasz Wierzba" });
  });
});

describe("stepping in", () => {
  it("opens one page to its overseer for an hour, says so in the ledger and to the owner, and to nobody else", async () => {
    const body = { schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text: "For Greta alone." }] }] };
    const { id } = await startPage("greta", { parent: "handbook", as: "page", title: "Grievances", body });
    await publishPage("greta", id, { version: "0.1", note: "" });
    await change("greta", [{ kind: "stance", place: id, from: "follow", to: "fresh" }, gives(id, reader({ person: "greta" }))]);
    const html = (me: string) =>
      readReaderPage({ me, viewpoint: null }, "staff-handbook", id).then(
        (page) => page.html,
        () => null,
      );
    const now = presentInstant();
    expect([await html("greta"), await html("ines")]).toEqual(['<p dir="auto">For Greta alone.</p>', null]);
    expect((await trouble(stepIn("ines", id, " "))).status).toBe(400);
    expect((await trouble(stepIn("paolo", id, "Curious."))).code).toBe("notThere");
    expect((await trouble(stepIn("greta", id, "It is mine."))).code).toBe("refused");
    await stepIn("ines", id, "A complaint names this page.", instantAt(now - 61 * 60_000));
    expect(await html("ines")).toBeNull();
    await stepIn("ines", id, "A complaint names this page.", now);
    expect([await html("ines"), await html("tomasz"), await html("mei")]).toEqual(['<p dir="auto">For Greta alone.</p>', null, null]);
    const told = (await readReaderPage({ me: "greta", viewpoint: null }, "staff-handbook", id)).steppedIn;
    expect(told[0]).toMatchObject({ by: "Ines Carvalho", reason: "A complaint names this page." });
    expect((await readLedger("greta", { place: id, act: "stepIn" })).lines).toHaveLength(2);
    expect(await readReaderPage({ me: "ines", viewpoint: "person:greta" }, "staff-handbook", id)).toMatchObject({ html: null });
  });
});

describe("reading", () => {
  const asWhoever = { me: null, viewpoint: null };
  it("answers alike for hidden and missing pages, and redirects nobody who may not read", async () => {
    const hidden = await trouble(readReaderPage(asWhoever, "port-security", "patrols"));
    const missing = await trouble(readReaderPage(asWhoever, "port-security", "nosuchpage"));
    expect([hidden.status, hidden.code, hidden.message]).toEqual([missing.status, missing.code, missing.message]);
    expect((await readFrontDoor(asWhoever)).spaces.map((space) => space.title)).toEqual(["Harbour Notices"]);
  });

  it("walked through other eyes never shows a body the looker could not open, nor what the looker does not administer", async () => {
    // Ines oversees the site: a page closed to her is walked without its text.
    await change("elif", [{ kind: "stance", place: "ballast", from: "follow", to: "fresh" }, gives("ballast", reader({ person: "tara" }))]);
    const walked = await readReaderPage({ me: "ines", viewpoint: "person:tara" }, "environment-fisheries", "ballast");
    expect([walked.html, walked.closed.length > 0]).toEqual([null, true]);
    expect((await trouble(readReaderPage({ me: "maren", viewpoint: "person:viktor" }, "port-security", "patrols"))).code).toBe("notThere");
    expect((await trouble(readReaderPage({ me: "mei", viewpoint: "person:viktor" }, "staff-handbook", null))).code).toBe("notThere");
    // What the public sees, every member may look at, and whole: they could see it signed out.
    const open = await readReaderPage({ me: null, viewpoint: null }, "harbour-notices", null);
    const through = await readReaderPage({ me: "mei", viewpoint: "public" }, "harbour-notices", null);
    expect([through.html?.replaceAll("/eyes/public", ""), through.navigation.length, through.partial]).toEqual([
      open.html,
      open.navigation.length,
      false,
    ]);
    // A walk that leaves something out says so; one through eyes that see no more than one keeps does not.
    expect((await readFrontDoor({ me: "maren", viewpoint: "person:viktor" })).partial).toBe(true);
    expect((await readFrontDoor({ me: "ines", viewpoint: "person:viktor" })).partial).toBe(false);
    expect((await trouble(readReaderPage({ me: "dora", viewpoint: "public" }, "harbour-notices", null))).code).toBe("notThere");
  });

  it("never names a place above that the asker cannot see", async () => {
    const page = await readReaderPage({ me: "dora", viewpoint: null }, "quay-operations", "berthrequests");
    expect([page.space.title, page.path]).toEqual(["", [null]]);
    const grid = await readGrid("hugo", { columns: ["public"] });
    const shown = JSON.stringify(grid.rows);
    const document = await now();
    const index = compile(document);
    const hugo = subjectOf(index, { person: "hugo" });
    for (const place of index.places) {
      if (!hugo || effectiveSet(index, hugo, placeOf(index, place.place.id) ?? place, instantAt(Date.now()))) continue;
      if (place.place.kind !== "site") expect(shown).not.toContain(`"${place.place.title}"`);
    }
  });
});

describe("writing", () => {
  it("keeps every version, shows readers only what is live, and refuses a save over a newer version with both", async () => {
    const body = (text: string) => ({ schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
    const { id } = await startPage("jonas", { parent: "quays", as: "page", title: "Fog signals" });
    expect((await trouble(readReaderPage({ me: "mei", viewpoint: null }, "quay-operations", id))).code).toBe("notThere");
    const { version } = await saveVersion("jonas", id, { title: "Fog signals", body: body("One long blast."), base: "0.1", note: "" });
    const late = await trouble(saveVersion("maren", id, { title: "Fog", body: body("Two."), base: "0.1", note: "" }));
    expect([late.status, (late.details as { version: string }).version]).toEqual([409, "0.2"]);
    expect((await trouble(publishPage("aisha", id, { version, note: "" }))).code).toBe("refused");
    await publishPage("jonas", id, { version, note: "" });
    await saveVersion("jonas", id, { title: "Fog and snow", body: body("Two long blasts."), base: "1.0", note: "" });
    const page = await readReaderPage({ me: "mei", viewpoint: null }, "quay-operations", id);
    expect([page.title, page.html]).toEqual(["Fog signals", '<p dir="auto">One long blast.</p>']);
    expect((await readWorking("jonas", id)).version).toBe("1.1");
    expect(
      (await trouble(saveVersion("jonas", id, { title: "x", base: "1.1", note: "", body: { schema: 1, content: [{ type: "script" }] } })))
        .status,
    ).toBe(400);
    expect((await trouble(startPage("dora", { parent: "berthrequests", as: "page", title: "Mine" }))).code).toBe("refused");
  });
});
