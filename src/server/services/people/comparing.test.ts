/** Two groups compared: who is in one alone, and what one alone is granted, as far as the asker may see rules. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { inChange } from "../../db/client.ts";
import { makeChange } from "../change/apply.ts";
import { compareGroups } from "./comparing.ts";

onDatabase("demo");

const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "" }));

it("says who is in one alone, through groups too, and which grants are of one alone", async () => {
  const compared = await compareGroups("ines", "operations", "quay");
  expect(compared.there.people).toEqual([]);
  expect(compared.here.count).toBeGreaterThan(0);
  expect(compared.here.granted.map(({ place, sentence }) => [place.id, sentence])).toContainEqual(["quays", "Operations are Writer"]);
  expect(compared.there.granted.map(({ place }) => place.id)).toContain("quays");
  const both = (["operations", "quay"] as const).map(
    (group): Edit => ({ kind: "grant", place: "mooring", put: { to: { group }, abilities: ["read", "discuss"] } }),
  );
  await change(...both, { kind: "grant", place: "site", put: { to: { group: "quay" }, abilities: ["read"] } });
  const after = await compareGroups("ines", "operations", "quay");
  expect([...after.here.granted, ...after.there.granted].map(({ place }) => place.id)).not.toContain("mooring");
  expect(after.there.granted.map(({ place }) => place.name)).toContain("The site");
});

it("tells rules alone where the asker may see them, and is alike for groups that are not there", async () => {
  const keeper = await compareGroups("viktor", "operations", "quay");
  expect([keeper.here.granted, keeper.there.granted]).toEqual([[], []]);
  expect((await compareGroups("maren", "operations", "quay")).there.granted.map(({ place }) => place.id)).not.toContain("site");
  expect([await status(compareGroups("ines", "operations", "none")), await status(compareGroups("ines", "none", "quay"))]).toEqual([
    404, 404,
  ]);
});
