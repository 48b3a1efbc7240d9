/** The desk on the demo: a row of every kind there is, for those alone whose business it is, gone once it is settled or set aside. */
import { eq } from "drizzle-orm";
import { describe, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { status } from "../../../../test/status.ts";
import type { Desk } from "../../../contracts/desk.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import { readAccess, subjectFor } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import { database, inChange, inSnapshot } from "../../db/client.ts";
import { benchDrafts, deskAside, listing, notices } from "../../db/schema/index.ts";
import { makeChange } from "../change/apply.ts";
import { settleReview } from "../review/settling.ts";
import { readDesk, readNotice, setDeskAside } from "./desk.ts";

onDatabase("demo");

const DAY = 86_400_000;
const change = (...edits: Edit[]) => inChange((tx) => makeChange(tx, { maker: "ines", edits, act: "rules", note: "", reason: "x" }));

/** The desk with all that takes its time. */
async function whole(who: string): Promise<Desk> {
  for (;;) {
    const desk = await readDesk(who);
    if (!desk.pending) return desk;
    await new Promise((later) => setTimeout(later, 100));
  }
}
const kinds = ({ rows }: Desk): string[] => [...new Set(rows.map(({ key }) => key.split(":")[0] ?? ""))];

describe("what stands on a desk", () => {
  it("is of every kind there is for who keeps the site, in order of consequence, each row once", async () => {
    const desk = await whole("ines");
    expect(kinds(desk)).toEqual(
      expect.arrayContaining([
        "outside",
        "finding",
        "pledge",
        "breaking",
        "asked",
        "approval",
        "notice",
        "ending",
        "pass",
        "bin",
        "unused",
        "review",
        "draft",
        "routine",
        "held",
        "job",
        "idle",
      ]),
    );
    expect(new Set(desk.rows.map(({ key }) => key)).size).toBe(desk.rows.length);
    const order = ["outside", "pledges", "waiting", "ending", "old", "machinery"];
    const headings = desk.rows.map(({ heading }) => order.indexOf(heading));
    expect(headings).toEqual([...headings].sort((a, b) => a - b));
    expect(desk.count).toBe(desk.rows.length + desk.more.reduce((sum, { count }) => sum + count, 0));
    for (const { acts, words, otherwise } of desk.rows) {
      expect(words + otherwise).not.toBe("");
      expect(acts.length).toBeGreaterThan(0);
      expect(new Set(acts.map(({ key }) => key)).size).toBe(acts.length);
    }
    expect(Date.parse(desk.next?.at ?? "")).toBeGreaterThan(Date.now());
  });

  it("names to nobody a page they may not know of, and holds for keepers and writers what is theirs", async () => {
    await database()
      .update(benchDrafts)
      .set({ savedAt: new Date(Date.now() - 200 * DAY) });
    for (const who of ["maren", "jonas", "mei", "viktor", "lena", "greta"]) {
      const desk = await whole(who);
      await inSnapshot(async (tx) => {
        const access = await readAccess(tx);
        for (const { place, key } of desk.rows)
          if (place) expect([who, key, knowsPlace(access, subjectFor(access, who), place.id)]).toEqual([who, key, true]);
      });
    }
    expect(kinds(await whole("maren"))).toEqual(expect.arrayContaining(["review", "idle"]));
    expect(kinds(await whole("viktor"))).toContain("asked");
    expect(
      kinds(await whole("mei")).filter((kind) => ["outside", "finding", "pledge", "asked", "ending", "job", "routine"].includes(kind)),
    ).toEqual([]);
    expect(kinds(await whole("greta"))).toContain("draft");
    expect(await status(readDesk("nobody-of-that-id"))).toBe(404);
  });
});

describe("what is done on a desk", () => {
  it("a settled row is gone and stands among what was settled; one set aside comes back at its time", async () => {
    const before = await whole("maren");
    const row = before.rows.find(({ key }) => key.startsWith("review:"));
    const how = row?.acts.find(({ key }) => key === "c")?.how;
    if (!row || how?.do !== "confirm") throw new Error("Nothing is due for maren.");
    await settleReview("maren", { rows: [how.row], outcome: "confirmed", reason: "" });
    const after = await whole("maren");
    expect(after.rows.some(({ key }) => key === row.key)).toBe(false);
    expect(after.settled[0]).toMatchObject({ mine: true, takenBack: false });
    const other = after.rows[0]?.key ?? "";
    await setDeskAside("maren", { row: other, until: new Date(Date.now() + DAY).toISOString() });
    const aside = await whole("maren");
    expect([aside.rows.some(({ key }) => key === other), aside.aside]).toEqual([false, 1]);
    // It is set aside on nobody else's desk.
    expect((await whole("ines")).aside).toBe(0);
    await database()
      .update(deskAside)
      .set({ until: new Date(Date.now() - 1_000) });
    expect((await whole("maren")).rows.some(({ key }) => key === other)).toBe(true);
    await setDeskAside("maren", { row: other, until: new Date(Date.now() + DAY).toISOString() });
    await setDeskAside("maren", { row: other, until: null });
    expect((await whole("maren")).aside).toBe(0);
    expect(await status(setDeskAside("maren", { row: other, until: "2020-01-01T00:00:00Z" }))).toBe(400);
  });

  it("a notice is taken off by its reader alone, and one about nothing they may know of any more stands on no desk", async () => {
    const [notice] = await database().select().from(notices).where(eq(notices.personId, "ines"));
    const id = String(notice?.id);
    for (const wrong of [id, "0", "x", "99999999999999999"]) expect(await status(readNotice("maren", wrong))).toBe(404);
    await readNotice("ines", id);
    expect(kinds(await whole("ines"))).not.toContain("notice");
    await database()
      .update(notices)
      .set({ readAt: null, about: { name: "Old", note: "", pages: "nowhere,patrols" }, personId: "mei" })
      .where(eq(notices.id, Number(id)));
    expect(kinds(await whole("mei"))).not.toContain("notice");
    await database()
      .update(notices)
      .set({ about: { name: "Old", note: "Look.", pages: "cranes,leave", guests: "dora" } })
      .where(eq(notices.id, Number(id)));
    expect((await whole("mei")).rows.find(({ key }) => key.startsWith("notice:"))?.words).toContain("2 pages");
  });

  it("shows the first of a kind, and says how many more there are", async () => {
    await database()
      .update(listing)
      .set({ dueAt: new Date(Date.now() - DAY) })
      .where(eq(listing.state, "live"));
    const change_ = await inSnapshot(readAccess);
    expect(change_.seq).toBeGreaterThan(0);
    await change({
      kind: "tags",
      place: "cranes",
      from: change_.index.document.places.find(({ id }) => id === "cranes")?.tags ?? [],
      to: ["lifting"],
    });
    const desk = await whole("ines");
    expect(desk.rows.filter(({ key }) => key.startsWith("review:"))).toHaveLength(20);
    expect(desk.more.find(({ address }) => address === "/review")?.count).toBeGreaterThan(30);
  });
});
