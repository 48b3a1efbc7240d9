/** A site from nothing: founded, its first spaces started, keys for programs made and withdrawn, people found by name. */

import { beforeAll, describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { SpaceRow } from "../../../contracts/spaces.ts";
import { BEFORE_ALL, type Ceilings, type Edit, type SpaceSettings } from "../../../core/access/model/index.ts";
import { PRESET_ROWS } from "../../../core/access/presets/index.ts";
import { readAccess } from "../../access/current.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { ledgerWords, spaces } from "../../db/schema/index.ts";
import { verifyLedger } from "../../ledger/chain.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readGrid } from "../grid/grid.ts";
import { listTokens, makeToken, scopesOfToken, withdrawToken } from "../house/tokens.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { findPeople } from "../people/findPeople.ts";
import { readFrontDoor } from "../reading/frontDoor.ts";
import { readReaderPage } from "../reading/reading.ts";
import { findPlaces } from "../search/search.ts";
import { publishPage } from "../writing/publishing.ts";
import { startPage } from "../writing/writing.ts";
import { lookAtSpace, startSpace } from "./startSpace.ts";

let keeper = "";
const document = () => inSnapshot((tx) => loadDocument(tx));
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));
/** A closed room of the keeper's own. */
const order = (title: string) => ({
  title,
  purpose: "",
  preset: "closedRoom" as const,
  keepers: [{ person: keeper }],
  publishers: [],
  writers: [],
});

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await document()).people[0]?.id ?? "";
});

describe("a space", () => {
  it("is started by site keepers alone, stands last with an address of its own, and opens to nobody by itself", async () => {
    await change({ kind: "person", person: "ben", put: { id: "ben", name: "Bénédicte Ruß", kind: "member", status: "active" } });
    expect(await status(startSpace("ben", order("Ben's")))).toBe(403);
    const first = await startSpace(keeper, { ...order("  Tide tables "), purpose: "When the water comes." });
    const second = await startSpace(keeper, order("Tide tables"));
    const places = (await document()).places;
    expect(places.find(({ id }) => id === first.id)).toMatchObject({ kind: "space", state: "live", title: "Tide tables", stance: "fresh" });
    const door = await readFrontDoor({ me: keeper, viewpoint: null });
    expect(door.spaces.map(({ title, address, purpose }) => [title, address, purpose])).toEqual([
      ["Tide tables", "/read/tide-tables", "When the water comes."],
      ["Tide tables", "/read/tide-tables-2", ""],
    ]);
    expect((await readFrontDoor({ me: "ben", viewpoint: null })).spaces).toEqual([]);
    const grid = await readGrid(keeper, { columns: ["public", "members"] });
    expect(grid.rows.map(({ title, depth }) => `${depth} ${title}`)).toEqual(["0 The whole site", "1 Tide tables", "1 Tide tables"]);
    expect((await readGrid("ben", { columns: ["public"] })).rows).toEqual([]);
    // What keeps the rules in memory knows it as what reads them anew does.
    const { index } = await inSnapshot((tx) => readAccess(tx));
    expect(index.places.filter((place) => place.space === place.number).map(({ place }) => place.id)).toEqual(
      expect.arrayContaining([first.id, second.id]),
    );
  });

  it("takes pages at once, and goes to the bin when its start is taken back", async () => {
    const { id } = await startSpace(keeper, order("Short-lived"));
    const page = await startPage(keeper, { parent: id, as: "page", title: "First page" });
    await publishPage(keeper, page.id, { version: "0.1", note: "" });
    expect((await readReaderPage({ me: keeper, viewpoint: null }, "short-lived", page.id)).title).toBe("First page");
    expect((await findPlaces(keeper, "short")).map((it) => it.kind)).toEqual(["space"]);
    const line = (await readLedger(keeper, { act: "startSpace" })).lines[0];
    expect(line?.canTakeBack).toBe(true);
    const { seen } = await previewTakeBack(keeper, line?.seq ?? BEFORE_ALL);
    await takeBack(keeper, line?.seq ?? BEFORE_ALL, { note: "", seen });
    expect((await document()).places.find((it) => it.id === id)?.state).toBe("binned");
    expect(await status(takeBack(keeper, line?.seq ?? BEFORE_ALL, { note: "", seen }))).toBe(409);
    expect((await readFrontDoor({ me: keeper, viewpoint: null })).spaces.map(({ title }) => title)).not.toContain("Short-lived");
  });

  it("is looked at with every preset beside it, then made as it was shown: rules, first page, landing page, as one change taken back as one", async () => {
    const wished = { ...order("Pilots' room"), preset: "readingRoom" as const, writers: [{ person: "ben" }], first: "Start here" };
    const look = await lookAtSpace(keeper, wished);
    const said = (rows: SpaceRow[]) => rows.map(({ name, cell }) => `${name} ${cell.level}`);
    expect(said(look.rows)).toEqual(["The public 0", "Any guest 0", "Any member 1", "Ada 5", "Bénédicte Ruß 3"]);
    expect(Object.entries(look.presets).map(([preset, rows]) => `${preset} ${rows.map(({ cell }) => cell.level).join("")}`)).toEqual([
      "openHouse 113",
      "commonRoom 003",
      "readingRoom 001",
      "closedRoom 000",
    ]);
    expect([look.address, look.taken]).toEqual(["pilots-room", false]);
    const { space, pages } = look;
    const page = pages[0] ?? "";
    const made = { ...wished, space, pages, seen: look.preview.seen, note: "For pilots." };
    expect(await status(startSpace("ben", made))).toBe(403);
    expect(await status(startSpace(keeper, { ...made, writers: [] }))).toBe(409);
    expect(await status(startSpace(keeper, { ...made, writers: [{ audience: "members" }] }))).toBe(400);
    expect(await status(startSpace(keeper, { ...made, address: "tide-tables" }))).toBe(400);
    expect((await document()).places.some(({ id }) => id === space || id === page)).toBe(false);
    await startSpace(keeper, made);
    // The same again is another space's id.
    expect(await status(startSpace(keeper, made))).toBe(409);
    expect((await readReaderPage({ me: "ben", viewpoint: null }, "pilots-room", null)).title).toBe("Start here");
    expect((await lookAtSpace(keeper, { ...wished, address: "pilots-room" })).taken).toBe(true);
    const line = (await readLedger(keeper, { act: "startSpace" })).lines[0];
    expect(line?.note).toBe("For pilots.");
    await takeBack(keeper, line?.seq ?? BEFORE_ALL, { note: "", seen: (await previewTakeBack(keeper, line?.seq ?? BEFORE_ALL)).seen });
    const after = (await document()).places.filter(({ id }) => id === space || id === page);
    expect(after.map(({ kind, state, was }) => `${kind} ${state} ${was ?? ""}`).sort()).toEqual(["page binned draft", "space binned "]);
  });
});

describe("settings of a space", () => {
  /** What its preset says of it to begin with. */
  const begun = { review: PRESET_ROWS.closedRoom.review };
  const settings = (place: string, remove: SpaceSettings, put: Partial<SpaceSettings>): Edit => ({
    kind: "settings",
    place,
    remove: { ...begun, ...remove },
    put: { ...begun, ...remove, ...put },
  });

  it("change through a door of their own: the old address leads on, the name is everywhere, all of it is taken back", async () => {
    const { id } = await startSpace(keeper, { ...order("Mooring"), first: "Welcome" });
    const before = { name: "Mooring", address: "mooring", purpose: "" };
    const { seq } = await change(settings(id, before, { name: "Mooring & lines", address: "lines", purpose: "How ships are held." }));
    const door = async (slug: string) => (await readReaderPage({ me: keeper, viewpoint: null }, slug, null)).space;
    expect([await door("lines"), await door("mooring")].map(({ title, address }) => [title, address])).toEqual([
      ["Mooring & lines", "/read/lines"],
      ["Mooring & lines", "/read/lines"],
    ]);
    expect((await findPlaces(keeper, "lines")).map(({ title }) => title)).toEqual(["Mooring & lines"]);
    // What was seen is not so any more; an address is one space's alone, and an old one goes to whoever takes it.
    expect(await status(change(settings(id, before, { purpose: "x" })))).toBe(409);
    expect(
      await status(
        change(settings(id, { name: "Mooring & lines", address: "lines", purpose: "How ships are held." }, { address: "tide-tables" })),
      ),
    ).toBe(400);
    const other = await startSpace(keeper, { ...order("Other"), address: "mooring", first: "Other" });
    expect((await door("mooring")).id).toBe(other.id);
    expect(await previewTakeBack(keeper, seq).then(String, (error) => error.message)).toContain("another space has this address");
    await change(settings(other.id, { name: "Other", address: "mooring", purpose: "" }, { address: "other" }));
    await takeBack(keeper, seq, { note: "", seen: (await previewTakeBack(keeper, seq)).seen });
    expect(await door("lines")).toMatchObject({ title: "Mooring", address: "/read/mooring", purpose: "" });
    // What the rules do not hold is read anew as well, though the rules are the same.
    await change(settings(id, before, { purpose: "Ropes." }));
    expect((await door("mooring")).purpose).toBe("Ropes.");
  });

  it("go with the space when it is erased: no word of them is left in the ledger, which still verifies", async () => {
    const { id } = await startSpace(keeper, { ...order("Quillwort"), address: "quillwort-room" });
    await change(settings(id, { name: "Quillwort", address: "quillwort-room", purpose: "" }, { name: "Bogbean", purpose: "Rare plants." }));
    await change({ kind: "house", from: { binDays: 90 }, to: { binDays: 0 } });
    for (const act of ["bin", "erase"] as const)
      await inChange((tx) =>
        makeChange(tx, {
          maker: keeper,
          edits: [],
          acts: [{ act, places: [id], ...(act === "bin" ? { below: "along" as const } : { pages: 1 }) }],
          act,
          note: "",
        }),
      );
    const words = await inSnapshot((tx) => tx.select().from(ledgerWords));
    expect(words.filter(({ text }) => /quillwort|bogbean|rare plants/i.test(text))).toEqual([]);
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  });

  it("people land on a live page of the space itself, and ceilings are whole on the site and lawful everywhere", async () => {
    const { id } = await startSpace(keeper, { ...order("Locks"), first: "Welcome" });
    const { id: elsewhere } = await startSpace(keeper, { ...order("Weirs"), first: "Hello" });
    const landings = Object.fromEntries(
      (await inSnapshot((tx) => tx.select().from(spaces))).map(({ placeId, landingId }) => [placeId, landingId]),
    );
    const from = landings[id] ?? null;
    for (const to of [landings[elsewhere] ?? "", elsewhere, "nowhere", id])
      expect([to, await status(change({ kind: "landing", place: id, from, to }))]).toEqual([to, 400]);
    const ceilings = (place: string, from: Ceilings | null, to: Ceilings | null): Edit => ({ kind: "ceilings", place, from, to });
    const site = (await document()).ceilings;
    for (const [place, to] of [
      ["site", null],
      ["site", { outsiders: ["read"] }],
      [id, { outsiders: ["revise"] }],
      [id, { guests: ["govern"] }],
      [from ?? "", { outsiders: [] }],
    ] as [string, Ceilings | null][])
      expect([place, to, await status(change(ceilings(place, place === "site" ? site : null, to)))]).toEqual([place, to, 400]);
    await change(ceilings(id, null, { outsiders: [], guests: [], passes: false }));
    expect(await status(change(ceilings(id, null, { outsiders: [] })))).toBe(409);
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  });
});

describe("a token", () => {
  it("is made by site keepers, known by its hash until it is over or withdrawn, and never shown again", async () => {
    expect(await status(makeToken("ben", { name: "x", scopes: ["exports"] }))).toBe(403);
    expect(await status(makeToken(keeper, { name: "x", scopes: ["exports"], until: "2020-01-01T00:00:00Z" }))).toBe(400);
    const { id, token } = await makeToken(keeper, { name: "Nightly", scopes: ["exports", "exports"] });
    expect(await scopesOfToken(token)).toEqual(["exports"]);
    const soon = await makeToken(keeper, { name: "Soon", scopes: ["decisions"], until: new Date(Date.now() + 300).toISOString() });
    await new Promise((later) => setTimeout(later, 400));
    expect([await scopesOfToken(soon.token), await scopesOfToken("tesoro_guess")]).toEqual([null, null]);
    expect(JSON.stringify(await listTokens(keeper))).not.toContain(token);
    expect(await status(listTokens("ben"))).toBe(403);
    await withdrawToken(keeper, id);
    expect([await scopesOfToken(token), await status(withdrawToken(keeper, id))]).toEqual([null, 404]);
    expect((await readLedger(keeper, { act: "makeToken" })).lines.map(({ what }) => what[0]?.text)).toContain("token “Nightly”");
  });
});

describe("people", () => {
  it("are found by the beginnings of names, whatever their accents, with what tells them apart; never all of them", async () => {
    await change(
      { kind: "group", group: "crew", put: { id: "crew", name: "The crew" } },
      { kind: "member", group: "crew", put: { person: "ben" } },
      ...Array.from({ length: 20 }, (_, i): Edit => {
        const id = `p${i}`;
        return { kind: "person", person: id, put: { id, name: `Person ${i}`, kind: "guest", status: "active" } };
      }),
    );
    const found = await findPeople("benedicte");
    expect(found.people).toEqual([{ id: "ben", name: "Bénédicte Ruß", kind: "member", groups: ["The crew"] }]);
    expect((await findPeople("crew")).groups).toEqual([{ id: "crew", name: "The crew", people: 1 }]);
    expect((await findPeople("person")).people.length).toBeLessThan(20);
    expect((await findPeople("nobody of this name")).people).toEqual([]);
  });

  it("leave no word of theirs in the chain, and the chain holds", async () => {
    expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
  });
});
