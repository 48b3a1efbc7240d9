/** A site from nothing: founded, its first spaces started, keys for programs made and withdrawn, people found by name. */

import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openScratchDatabase } from "../../../../cli/demoSite.ts";
import { status } from "../../../../test/status.ts";
import { BEFORE_ALL, type Edit } from "../../../core/access/model/index.ts";
import { readAccess } from "../../access/current.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
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
import { startSpace } from "./startSpace.ts";

let scratch: { close(): Promise<void> };
let keeper = "";
const document = () => inSnapshot((tx) => loadDocument(tx));
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "", reason: "Set up." }));

beforeAll(async () => {
  scratch = await openScratchDatabase();
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await document()).people[0]?.id ?? "";
});
afterAll(() => scratch?.close());

describe("a space", () => {
  it("is started by site keepers alone, stands last with an address of its own, and opens to nobody by itself", async () => {
    await change({ kind: "person", person: "ben", put: { id: "ben", name: "Bénédicte Ruß", kind: "member", status: "active" } });
    expect(await status(startSpace("ben", { title: "Ben's", purpose: "" }))).toBe(403);
    const first = await startSpace(keeper, { title: "  Tide tables ", purpose: "When the water comes." });
    const second = await startSpace(keeper, { title: "Tide tables", purpose: "" });
    const places = (await document()).places;
    expect(places.find(({ id }) => id === first.id)).toMatchObject({ kind: "space", state: "live", title: "Tide tables", grants: [] });
    const door = await readFrontDoor({ me: keeper, viewpoint: null });
    expect(door.spaces.map(({ title, address, purpose }) => [title, address, purpose])).toEqual([
      ["Tide tables", "/read/tide-tables", "When the water comes."],
      ["Tide tables", "/read/tide-tables-2", ""],
    ]);
    expect((await readFrontDoor({ me: "ben", viewpoint: null })).spaces).toEqual([]);
    const grid = await readGrid(keeper, ["public", "members"]);
    expect(grid.rows.map(({ title, depth }) => `${depth} ${title}`)).toEqual(["0 The whole site", "1 Tide tables", "1 Tide tables"]);
    expect((await readGrid("ben", ["public"])).rows).toEqual([]);
    // What keeps the rules in memory knows it as what reads them anew does.
    const { index } = await inSnapshot((tx) => readAccess(tx));
    expect(index.places.filter((place) => place.space === place.number).map(({ place }) => place.id)).toEqual(
      expect.arrayContaining([first.id, second.id]),
    );
  });

  it("takes pages at once, and goes to the bin when its start is taken back", async () => {
    const { id } = await startSpace(keeper, { title: "Short-lived", purpose: "" });
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
