/** The troubles planted in Brinehaven (demo-scenario.md), each found by the view that is meant for it. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { readFindings } from "../findings/findings.ts";
import { readGrid } from "../grid/grid.ts";
import { readIdle } from "../idle/idle.ts";
import { readPages } from "../pages/pages.ts";
import { readGroups } from "../people/groups.ts";
import { readPledges } from "../pledges/pledges.ts";
import { readRegister } from "../registers/registers.ts";
import { readWho } from "../slip/who.ts";
import { lookAtContents } from "../spaces/contents.ts";
import { readGuests } from "./guests.ts";
import { readOutside } from "./publicPages.ts";

onDatabase("demo");

const idle = async (kind: Parameters<typeof readIdle>[1]["kind"]) => (await readIdle("ines", kind ? { kind } : {})).rows;

it("a grant that does nothing: Outside, Idle rules", async () => {
  expect((await idle("covered")).map(({ place, sentence }) => [place.id, sentence])).toContainEqual([
    "quays",
    expect.stringContaining("Quay Crew"),
  ]);
});

it("a security page that the public reads through a moved section: Outside, Public; Pledges", async () => {
  const { rows } = await readOutside("ines", { show: "new" });
  expect(rows.find(({ id }) => id === "crowdwatch")).toMatchObject({
    since: { who: "Noor van Dijk", act: "Moved" },
    through: [{ place: "visitors" }],
  });
  expect((await readPledges("ines")).pledges[0]).toMatchObject({ pledge: { id: "pledgepatrol" }, count: expect.any(Number) });
});

it("a guest still let in two months after the works ended: Outside, Guests", async () => {
  const { rows } = await readGuests("ines", { show: "unused" });
  expect(rows.map(({ name }) => name)).toContain("Anders Holm");
});

it("a public page that links to an internal one: Outside, Idle rules and Public", async () => {
  expect((await idle("deadEnds")).map(({ place }) => place.id)).toContain("closures");
  const { rows } = await readOutside("ines", { space: "notices" });
  expect(rows.find(({ id }) => id === "closures")?.nowhere).toBeGreaterThan(0);
});

it("a fence on a landing page that people take to cover the bulletins: Outside, Idle rules; the register of fences", async () => {
  expect((await idle("landingOnly")).map(({ place }) => place.id)).toContain("welcome");
  expect((await readRegister("ines", { of: "fences" })).rows.map(({ place }) => place.id)).toContain("welcome");
});

it("a page whose only keeper left: Outside, Idle rules; the slip's Who, where overseers alone are left", async () => {
  expect((await idle("suspended")).map(({ place }) => place.id)).toContain("nightkeys");
  const { lines } = await readWho("viktor", "nightkeys", {});
  expect(lines.every(({ set, oversight }) => set === 0 && oversight)).toBe(true);
});

it("a stale tide table that is the most read page: Pages, by views", async () => {
  const { rows } = await readPages("ines", { sort: "views", order: "down" });
  expect(rows[0]?.id).toBe("tidetables");
});

it("contents that list a page twice: the contents of the space", async () => {
  const { troubles } = await lookAtContents("maren", "quays");
  expect(troubles.map(({ trouble }) => trouble.kind)).toContain("twice");
});

it("an inquiry page with an e-mail address in it: Outside, Findings", async () => {
  const { rows } = await readFindings("ines", { kind: "email" });
  expect(rows.map(({ id }) => id)).toEqual(["lessonramp"]);
});

it("a group with a guest in it that somebody forgot: People, Groups; the grid, where the guest has more than guests have", async () => {
  const { groups } = await readGroups("ines");
  expect(groups.find(({ id }) => id === "cruise")).toMatchObject({ guests: 1 });
  const { rows } = await readGrid("ines", { columns: ["guests"] });
  expect(rows.find(({ id }) => id === "cruise2027")?.cells?.[0]).toMatchObject({ set: 0, more: 1 });
});
