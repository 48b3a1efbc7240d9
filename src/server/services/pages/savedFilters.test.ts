/** Filters with a name: one's own and those of spaces, each for whoever may know what it names; and tags as one may see them. */
import { expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status, told } from "../../../../test/status.ts";
import { deleteFilter, listFilters, saveFilter } from "./savedFilters.ts";
import { listTags } from "./tags.ts";

onDatabase("demo");

const named = async (who: string) => (await listFilters(who)).filters.map(({ name, space, mayDelete }) => [name, space, mayDelete]);

it("are one's own, or a space's for whoever sees it and may know of all that they name; changed by those who keep it", async () => {
  const own = await saveFilter("mei", { name: " Drafts of mine ", address: "?part=drafts" });
  expect(await named("mei")).toEqual([["Drafts of mine", null, true]]);
  expect(await named("maren")).toEqual([]);
  expect(await told(saveFilter("mei", { name: "Drafts of mine", address: "?x" }))).toContain("400 There is a filter of this name");
  expect(await status(saveFilter("mei", { name: "x", address: "?x", space: "quays" }))).toBe(403);
  expect(await told(saveFilter("maren", { name: "x", address: "?x", space: "cranes" }))).toContain("400 A filter is saved for oneself");
  expect(await status(saveFilter("maren", { name: "x", address: "?x", space: "portsecurity" }))).toBe(404);
  const { id } = await saveFilter("maren", { name: "Stale", address: "?space=quays&branch=berthplan", space: "quays" });
  await saveFilter("viktor", { name: "Of the quays, from here", address: "?branch=patrols", space: "portsecurity" });
  expect(await named("mei")).toEqual([
    ["Drafts of mine", null, true],
    ["Stale", "Quay Operations", false],
  ]);
  expect(await named("maren")).toEqual([["Stale", "Quay Operations", true]]);
  expect([
    await status(deleteFilter("mei", id)),
    await status(deleteFilter("maren", own.id)),
    await status(deleteFilter("mei", "none")),
  ]).toEqual([403, 404, 404]);
  await deleteFilter("maren", id);
  await deleteFilter("mei", own.id);
  expect(await named("mei")).toEqual([]);
  for (let i = 0; i < 60; i++) await saveFilter("mei", { name: `Filter ${i}`, address: "?x" });
  expect(await told(saveFilter("mei", { name: "One more", address: "?x" }))).toContain("400 At most 60");
});

it("count tags on the pages one may see, and say of which pledges speak to site keepers alone", async () => {
  const of = async (who: string, words = "") => (await listTags(who, words)).tags;
  expect((await of("ines")).find(({ tag }) => tag === "patrol-route")).toMatchObject({ pledged: true });
  expect((await of("viktor")).find(({ tag }) => tag === "patrol-route")).toMatchObject({ pledged: false });
  expect((await of("mei", "inquiry-open")).map(({ tag }) => tag)).toEqual([]);
  expect((await of("ines", "INQUIRY")).every(({ tag }) => tag.includes("inquiry"))).toBe(true);
  expect(await listTags("ines", "no such tag")).toMatchObject({ tags: [], total: 0 });
});
