/** The past of the large site: thousands of changes made and undone again, and how often its pages are read. */

import { type Edit, type Grant, instantAt, maskOf } from "../../core/access/model/index.ts";
import { dayBefore } from "../../server/clock.ts";
import { insertMany } from "../../server/db/bulk.ts";
import type { Tx } from "../../server/db/client.ts";
import { grants, viewCounts } from "../../server/db/schema/index.ts";
import { appendEntry } from "../../server/ledger/append.ts";
import type { Dice } from "./dice.ts";

const DAY = 86_400_000;

interface Past {
  dice: Dice;
  /** Ids of pages, of groups, and of whoever makes changes. */
  pages: readonly string[];
  groups: readonly string[];
  makers: readonly string[];
  /** When the site was founded, milliseconds since the epoch. */
  founded: number;
}

/** So many entries: a group is let in on a page, and some days later no more. What stands at the end is as before. */
export async function writePast(tx: Tx, count: number, { dice, pages, groups, makers, founded }: Past): Promise<void> {
  const rows: object[] = [];
  const step = (400 * DAY) / count;
  for (let i = 0; i + 1 < count; i += 2) {
    const place = dice.pick(pages);
    const grant: Grant = { to: { group: dice.pick(groups) }, abilities: ["read"] };
    const maker = dice.pick(makers);
    const at = founded + DAY + i * step;
    const enter = async (edits: Edit[], when: number, note: string) =>
      (await appendEntry(tx, { maker, act: "rules", places: [place], edits, note }, instantAt(when))).seq;
    const fromSeq = await enter([{ kind: "grant", place, put: grant }], at, "For the time of the project.");
    const toSeq = await enter([{ kind: "grant", place, remove: grant }], at + step, "The project is over.");
    rows.push({ placeId: place, to: grant.to, abilities: maskOf(grant.abilities), until: null, draft: false, fromSeq, toSeq });
  }
  await insertMany(tx, grants, rows);
}

/** Views of the last weeks: most pages are hardly read, some every day. */
export async function writeViews(tx: Tx, { dice, pages }: Pick<Past, "dice" | "pages">): Promise<void> {
  const rows: object[] = [];
  for (const placeId of pages) {
    if (!dice.chance(0.2)) continue;
    const often = dice.between(1, 40);
    for (let back = 1; back <= 30; back += dice.between(1, 12)) {
      const day = dayBefore(back);
      rows.push({ placeId, day, reader: dice.chance(0.3) ? "outsider" : "member", views: dice.between(1, often) });
    }
  }
  await insertMany(tx, viewCounts, rows);
}
