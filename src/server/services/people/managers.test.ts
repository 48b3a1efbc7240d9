/** Managers of a group: named by site keepers, filling it by their mandate and no further. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Edit, Manager } from "../../../core/access/model/index.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { loadDocument } from "../../db/document.ts";
import { groupManagers } from "../../db/schema/index.ts";
import { foundSite } from "../accounts/founding.ts";
import { makeChange } from "../change/apply.ts";
import { previewTakeBack, takeBack } from "../change/takeBack.ts";
import { readLedger } from "../ledger/ledgerView.ts";
import { readSlip } from "../slip/slip.ts";
import { startSpace } from "../spaces/startSpace.ts";
import { readGroup } from "./groups.ts";
import { leaveGroup } from "./leaving.ts";

let keeper = "";
let space = "";
const does = (maker: string, ...edits: Edit[]) =>
  inChange((tx) => makeChange(tx, { maker, edits, act: "rules", note: "", reason: "Set up." }));
const member = (person: string): Edit => ({ kind: "member", group: "crew", put: { person } });
const managers = (from: Manager[], to: Manager[]): Edit => ({ kind: "managers", group: "crew", from, to });
const ben = { person: "ben", guests: false };

onDatabase("schema");
beforeAll(async () => {
  await foundSite({ name: "Ada", email: "ada@here.invalid", password: "a password of length" });
  keeper = (await inSnapshot((tx) => loadDocument(tx))).people[0]?.id ?? "";
  const person = (id: string, kind: "member" | "guest" = "member"): Edit => ({
    kind: "person",
    person: id,
    put: { id, name: id, kind, status: "active" },
  });
  await does(
    keeper,
    ...["ben", "cleo", "dan"].map((id) => person(id)),
    person("gus", "guest"),
    { kind: "group", group: "crew", put: { id: "crew", name: "Crew" } },
    { kind: "group", group: "fleet", put: { id: "fleet", name: "Fleet" } },
    { kind: "member", group: "fleet", put: { group: "crew" } },
  );
  // What the group gets, its manager lacks.
  space = (
    await startSpace(keeper, {
      title: "Vault",
      purpose: "",
      preset: "closedRoom",
      keepers: [{ group: "fleet" }],
      publishers: [],
      writers: [],
    })
  ).id;
});

it("are members, named by site keepers alone, by value", async () => {
  expect(await status(does("ben", managers([], [ben])))).toBe(403);
  expect(await status(does(keeper, managers([], [{ person: "gus", guests: true }])))).toBe(400);
  expect(await status(does(keeper, managers([], [{ person: "nobody", guests: false }])))).toBe(400);
  await does(keeper, managers([], [ben]));
  expect(await status(does(keeper, managers([], [ben])))).toBe(409);
  expect((await readGroup("cleo", "crew")).managers).toEqual([{ ...ben, name: "ben" }]);
  // Shown where the group around theirs is granted something.
  expect((await readSlip(keeper, space)).rules.grants.map((it) => it.managers)).toEqual([["ben"]]);
});

it("put people in who then get more than they have themselves: neither themselves, nor groups, nor guests, nor anything beside", async () => {
  expect(await status(does("ben", member("ben")))).toBe(403);
  expect(await status(does("ben", member("gus")))).toBe(403);
  expect(await status(does("ben", { kind: "member", group: "crew", put: { group: "fleet" } }))).toBe(403);
  expect(await status(does("ben", { kind: "member", group: "fleet", put: { person: "cleo" } }))).toBe(403);
  expect(await status(does("cleo", member("dan")))).toBe(403);
  // Of what else is in the change nothing is let by.
  expect(
    await status(does("ben", member("cleo"), { kind: "grant", place: space, put: { to: { person: "dan" }, abilities: ["read"] } })),
  ).toBe(404);
  const { seq } = await does("ben", member("cleo"));
  expect((await readGroup("ben", "crew")).members.map(({ id }) => id)).toEqual(["cleo"]);
  expect((await readSlip("cleo", space)).title).toBe("Vault");
  const { seen } = await previewTakeBack("ben", seq);
  await takeBack("ben", seq, { note: "", seen });
  expect(await status(readSlip("cleo", space))).toBe(404);
  await does(keeper, managers([ben], [{ ...ben, guests: true }]));
  await does("ben", member("gus"));
  expect((await readGroup("ben", "crew")).mandate).toEqual({ ...ben, guests: true });
});

it("are the same whatever order they are told in, capital letters too", async () => {
  const two = [ben, { person: "Zoe", guests: false }];
  await does(keeper, { kind: "person", person: "Zoe", put: { id: "Zoe", name: "Zoe", kind: "member", status: "active" } });
  await does(keeper, managers([{ ...ben, guests: true }], [...two].reverse()));
  await does(keeper, managers(two, [{ ...ben, guests: true }]));
});

it("are so no longer once it is said; a group that goes has none", async () => {
  await does(keeper, managers([{ ...ben, guests: true }], []));
  expect(await status(does("ben", member("dan")))).toBe(403);
  await does(keeper, managers([], [ben]));
  const { lines } = await readLedger(keeper, { act: "rules" });
  expect(lines[0]?.what.flatMap((it) => ("text" in it ? [it.text] : [])).join()).toContain("managed by ben");
  const { edits } = await leaveGroup(keeper, "crew");
  await does(keeper, ...edits);
  expect(await database().select().from(groupManagers)).toEqual([]);
});
