/** What is said of a space beside its rules: what readers find in its contents, and whether they can read what its pages said before. */
import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { ContentsEntry, Edit, SpaceContents } from "../../../core/access/model/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { readReaderPage } from "../reading/reading.ts";
import { publishPage } from "../writing/publishing.ts";
import { saveVersion, startPage } from "../writing/writing.ts";
import { lookAtContents } from "./contents.ts";
import { startSpace } from "./startSpace.ts";

let keeper = "";
const id = { tides: "", other: "", tables: "", spring: "", lights: "", elsewhere: "" };
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));
const body = (text: string) => ({ schema: 1 as const, content: [{ type: "paragraph", content: [{ type: "text", text }] }] });
const read = (me: string | null, version: number | null = null, page: string | null = null) =>
  readReaderPage({ me, viewpoint: null }, "tides", page, version);
const found = async (me: string) =>
  (await read(me, null, id.tables)).navigation.map(({ kind, depth, title }) => `${depth} ${kind} ${title}`);

async function live(parent: string, title: string): Promise<string> {
  const page = await startPage(keeper, { parent, as: "page", title, body: body(`${title}, as it was.`) });
  await publishPage(keeper, page.id, { version: "0.1", note: "" });
  return page.id;
}

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
  await change(
    { kind: "person", person: "ben", put: { id: "ben", name: "Ben", kind: "member", status: "active" } },
    { kind: "person", person: "gus", put: { id: "gus", name: "Gus", kind: "guest", status: "active" } },
  );
  const order = { purpose: "", preset: "commonRoom" as const, keepers: [{ person: keeper }], publishers: [], writers: [] };
  id.tides = (await startSpace(keeper, { ...order, title: "Tides" })).id;
  id.other = (await startSpace(keeper, { ...order, title: "Other" })).id;
  id.tables = await live(id.tides, "Tables");
  id.spring = await live(id.tables, "Spring tides");
  id.lights = await live(id.tides, "Lights");
  id.elsewhere = await live(id.other, "Elsewhere");
  await change({ kind: "grant", place: id.tables, put: { to: { person: "gus" }, abilities: ["read"] } });
});

let standing: SpaceContents = { entries: [], rest: true };
async function arrange(entries: ContentsEntry[], rest: boolean) {
  const put = { entries, rest };
  const { seq } = await change({ kind: "contents", place: id.tides, remove: standing, put });
  standing = put;
  return seq;
}

describe("the contents of a space", () => {
  it("are what its readers find, headings and addresses for those alone who read the space", async () => {
    expect(await found("ben")).toEqual(["0 page Tables", "1 page Spring tides", "0 page Lights"]);
    await arrange(
      [{ page: id.lights }, { heading: "Water" }, { page: id.tables }, { link: "https://sea.invalid/", words: "The sea" }],
      true,
    );
    expect(await found("ben")).toEqual(["0 page Lights", "0 heading Water", "0 page Tables", "1 page Spring tides", "0 link The sea"]);
    expect(await found("gus")).toEqual(["0 page Tables", "1 page Spring tides"]);
    // What is not listed is still read by whoever is led there.
    await arrange([{ page: id.lights }], false);
    expect(await found("ben")).toEqual(["0 page Lights"]);
    // People land on “Tables”, the first page that went live.
    const { troubles } = await lookAtContents(keeper, id.tides);
    expect(troubles.map(({ trouble, title }) => `${trouble.kind} ${title}`)).toEqual(["unreachable Spring tides"]);
  });

  it("hold pages of the space alone; of others nothing is told, and nothing is told to whoever keeps no space", async () => {
    expect(await status(arrange([{ page: id.elsewhere }], true))).toBe(400);
    expect(await status(arrange([{ page: "no-such-page" }], true))).toBe(400);
    expect(await status(lookAtContents("ben", id.tides))).toBe(403);
    expect(await status(lookAtContents(keeper, id.tables))).toBe(400);
    const look = await lookAtContents(keeper, id.tides, { entries: [{ page: id.elsewhere }, { heading: "Nothing" }], rest: false });
    expect(look.troubles.map(({ trouble }) => trouble.kind)).toEqual(["gone", "emptyHeading", "unreachable", "unreachable"]);
    expect(JSON.stringify(look)).not.toContain("Elsewhere");
  });

  it("are taken back, and their words stand beside the chain until the space is erased", async () => {
    const before = standing;
    const seq = await arrange([{ heading: "Quokkaheading" }, { page: id.tables }], true);
    const said = async () => JSON.stringify(await readLedger(keeper, { place: id.tides }));
    expect(await said()).toContain("Quokkaheading");
    const { seen } = await previewTakeBack(keeper, seq);
    await takeBack(keeper, seq, { note: "", seen });
    standing = before;
    expect((await lookAtContents(keeper, id.tides)).standing).toEqual(before);
    const [{ chain = "" } = {}] = await database().execute<{ chain: string }>(sql`select string_agg(edits::text, '') as chain from ledger`);
    expect(chain).not.toContain("Quokkaheading");
  });
});

describe("what a page said before", () => {
  it("is read by its readers where the space shows it, by its writers always, and is otherwise as though it were not there", async () => {
    const page = id.lights;
    await saveVersion(keeper, page, { title: "Lights", body: body("Lights, as they are."), base: "1.0", note: "" });
    await publishPage(keeper, page, { version: "1.1", note: "" });
    // Common room: members write. Readers alone are those with a grant on the page.
    await change({ kind: "grant", place: page, put: { to: { person: "gus" }, abilities: ["read"] } });
    expect((await read("ben", null, page)).older.map(({ number }) => number)).toEqual([1]);
    expect((await read("ben", 1, page)).html).toContain("as it was");
    expect((await read("gus", null, page)).older).toEqual([]);
    // Through other eyes just what these get.
    const walked = (version: number | null) => readReaderPage({ me: keeper, viewpoint: "person:gus" }, "tides", page, version);
    expect((await walked(null)).older).toEqual([]);
    expect(await status(walked(1))).toBe(404);
    expect(await status(read("gus", 1, page))).toBe(404);
    const [name, address] = ["Tides", "tides"];
    const settings = { name, address, purpose: "", review: 365 };
    await change({ kind: "settings", place: id.tides, remove: settings, put: { ...settings, history: true } });
    expect((await read("gus", 1, page)).html).toContain("as it was");
    for (const version of [0, 2, 7]) expect(await status(read("gus", version, page))).toBe(404);
    expect(await status(read(null, 1, page))).toBe(404);
    // Taken down, it has readers no longer, and what it said before has none either.
    await change({ kind: "state", place: page, from: { state: "live" }, to: { state: "draft" } });
    expect(await status(read("gus", 1, page))).toBe(404);
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  });
});
