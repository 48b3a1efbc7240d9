/** House rules: read by site keepers, changed like anything else, what was seen is what is changed, and taken back. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import type { Edit, HouseRules } from "../../../core/access/model/index.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { foundSite } from "../accounts/founding.ts";
import { setPassword } from "../accounts/password.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { binKeepsDays } from "../life/facts.ts";
import { readHouse } from "./houseRules.ts";

let keeper = "";
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: keeper, edits, act: "rules", note: "" }));
const rule = (from: Partial<HouseRules>, to: Partial<HouseRules>): Edit => ({ kind: "house", from, to });

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
});

it("begin as the house has them, hold what they say, and come back", async () => {
  expect((await readHouse(keeper)).rules).toEqual({
    binDays: 90,
    passwordLength: 12,
    guestsBySpaceKeepers: false,
    useDays: 365,
    sensitiveWords: [],
  });
  await change({ kind: "person", person: "ben", put: { id: "ben", name: "Ben", kind: "member", status: "active" } });
  expect(await status(readHouse("ben"))).toBe(403);
  const { seq } = await change(
    rule({ binDays: 90, passwordLength: 12 }, { binDays: 7, passwordLength: 20 }),
    rule({ guestsBySpaceKeepers: false, sensitiveWords: [] }, { guestsBySpaceKeepers: true, sensitiveWords: ["patrol", "=sum"] }),
  );
  expect(await inSnapshot((tx) => binKeepsDays(tx))).toBe(7);
  expect(await told(setPassword("ada@here.invalid", "eighteen characters"))).toContain("20 characters");
  expect(await told(setPassword("ada@here.invalid", "x".repeat(201)))).toContain("more than 200");
  const [line] = (await readLedger(keeper, { act: "rules" })).lines;
  expect(line?.what.map(({ text }) => text).join("; ")).toMatch(
    /7 days.*20 characters.*sensitive words: patrol, =sum.*Keepers of places bring in guests/,
  );
  // Somebody was quicker; and nobody else changes them.
  expect(await status(change(rule({ binDays: 90 }, { binDays: 30 })))).toBe(409);
  expect(
    await status(inChange((tx) => makeChange(tx, { maker: "ben", edits: [rule({ binDays: 7 }, { binDays: 0 })], act: "rules", note: "" }))),
  ).toBe(403);
  await takeBack(keeper, seq, { note: "", seen: (await previewTakeBack(keeper, seq)).seen });
  expect((await readHouse(keeper)).rules).toMatchObject({
    binDays: 90,
    passwordLength: 12,
    guestsBySpaceKeepers: false,
    sensitiveWords: [],
  });
});
