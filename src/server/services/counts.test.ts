/** So many and no more, also where many come at the same moment: what is counted is counted by one at a time. */
import { count, eq } from "drizzle-orm";
import { expect, it } from "vitest";
import { onDatabase } from "../../../test/database.ts";
import { status } from "../../../test/status.ts";
import { MOST_DRAFTS } from "../../contracts/workbench.ts";
import { emptyBody } from "../../core/content/index.ts";
import { database } from "../db/client.ts";
import { benchDrafts, buffers, deskAside, savedFilters } from "../db/schema/index.ts";
import { setDeskAside } from "./desk/desk.ts";
import { saveFilter } from "./pages/savedFilters.ts";
import { beginDraft } from "./workbench/beginning.ts";
import { keepBuffer } from "./writing/buffers.ts";

onDatabase("demo");

const body = emptyBody();
const until = () => new Date(Date.now() + 86_400_000).toISOString();

const DOORS: Record<string, { most: number; add(nth: number): Promise<unknown>; kept(): Promise<{ n: number }[]> }> = {
  "tabs on a page": {
    most: 30,
    add: (nth) => keepBuffer("maren", "berthplan", { title: "x", body, base: "1.0", tab: `t${nth}`, rev: 1, spent: [] }),
    kept: () => database().select({ n: count() }).from(buffers).where(eq(buffers.placeId, "berthplan")),
  },
  "named filters": {
    most: 60,
    add: (nth) => saveFilter("maren", { name: `f${nth}`, address: "?a" }),
    kept: () => database().select({ n: count() }).from(savedFilters).where(eq(savedFilters.personId, "maren")),
  },
  "drafts on a workbench": {
    most: MOST_DRAFTS,
    add: (nth) => beginDraft("jonas", { title: `d${nth}` }),
    kept: () => database().select({ n: count() }).from(benchDrafts).where(eq(benchDrafts.ownerId, "jonas")),
  },
};

it.each(Object.entries(DOORS))("%s", async (_, { most, add, kept }) => {
  const [before] = await kept();
  const room = most - (before?.n ?? 0);
  // All but a few one after the other, and then many at once for the last places.
  for (let nth = 0; nth < room - 3; nth++) await add(nth);
  const answers = await Promise.all(Array.from({ length: 12 }, (_, nth) => status(add(1_000 + nth))));
  expect(answers.filter((it) => it === 200)).toHaveLength(3);
  expect((await kept())[0]?.n).toBe(most);
});

it("a row of a desk that is set aside already is no other one", async () => {
  await Promise.all([1, 2, 3].map(() => setDeskAside("maren", { row: "review:cranes", until: until() })));
  expect(await database().select().from(deskAside).where(eq(deskAside.personId, "maren"))).toHaveLength(1);
});
