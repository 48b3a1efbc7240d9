/** How Brinehaven's guests come and go: some with an end, some forgotten, each reading a few pages now and then. */

import { eq } from "drizzle-orm";
import { decide } from "../core/access/decide/index.ts";
import { subjectOf } from "../core/access/index/index.ts";
import { type Edit, type Instant, instantAt, READ } from "../core/access/model/index.ts";
import { accessNow } from "../server/access/current.ts";
import { inChange } from "../server/db/client.ts";
import { notedSince, pageUses, user } from "../server/db/schema/index.ts";
import { makeChange } from "../server/services/change/apply.ts";

const DAY = 86_400_000;
const HOUR = 3_600_000;

interface Habit {
  person: string;
  /** Days from today on which their time ends. */
  ends?: number;
  /** So many days ago they last came, and of every so many pages they read one. */
  lastDaysAgo: number;
  every: number;
}

/** The works at the dredging site ended two months ago; nobody thought of Anders and Miloš. */
const HABITS: Habit[] = [
  { person: "dora", lastDaysAgo: 1, every: 2 },
  { person: "luis", lastDaysAgo: 4, every: 3 },
  { person: "hanne", lastDaysAgo: 12, every: 4 },
  { person: "raj", lastDaysAgo: 31, every: 5 },
  { person: "stavros", lastDaysAgo: 64, every: 6 },
  { person: "ewa", ends: 12, lastDaysAgo: 2, every: 3 },
  { person: "bert", ends: 95, lastDaysAgo: 1, every: 2 },
  { person: "joao", ends: 95, lastDaysAgo: 66, every: 3 },
  { person: "milos", lastDaysAgo: 113, every: 3 },
  { person: "anders", lastDaysAgo: 141, every: 4 },
  { person: "carla", ends: 200, lastDaysAgo: 3, every: 1 },
  { person: "yusuf", ends: 60, lastDaysAgo: 8, every: 1 },
  { person: "greer", ends: 30, lastDaysAgo: 5, every: 1 },
  { person: "ade", lastDaysAgo: 190, every: 2 },
  { person: "linnea", ends: 150, lastDaysAgo: 20, every: 1 },
  { person: "oscar", ends: 240, lastDaysAgo: 9, every: 2 },
  { person: "thea", ends: -15, lastDaysAgo: 17, every: 2 },
];

async function giveEnds(now: Instant): Promise<void> {
  const { index } = await accessNow();
  const edits = HABITS.flatMap(({ person, ends }): Edit[] => {
    const remove = subjectOf(index, { person })?.person;
    return ends === undefined || !remove
      ? []
      : [{ kind: "person", person, remove, put: { ...remove, until: new Date(now + ends * DAY).toISOString() } }];
  });
  await inChange((tx) =>
    makeChange(tx, { maker: "ines", edits, act: "rules", note: "Ends as the companies gave them.", now: instantAt(now - 3 * HOUR) }),
  );
}

/** What guests read that the public does not, and when: a few pages of theirs, the latest at their last visit. */
async function readPages(now: Instant): Promise<void> {
  const { index, at } = await accessNow();
  const everybody = subjectOf(index, { public: true });
  await inChange(async (tx) => {
    await tx.update(notedSince).set({ at: new Date(now - 200 * DAY) });
    for (const { person, lastDaysAgo, every } of HABITS) {
      const guest = subjectOf(index, { person });
      const last = now - lastDaysAgo * DAY - 5 * HOUR;
      await tx
        .update(user)
        .set({ signedInAt: new Date(last) })
        .where(eq(user.id, person));
      if (!guest || !everybody) continue;
      const theirs = index.places.filter(
        ({ number, place }) =>
          place.kind === "page" && decide(index, guest.number, number, at) & READ && !(decide(index, everybody.number, number, at) & READ),
      );
      const read = theirs.filter((_, nth) => nth % every === 0).map(({ place }, nth) => ({ place: place.id, at: last - nth * 9 * DAY }));
      if (read.length > 0)
        await tx.insert(pageUses).values(read.map((it) => ({ personId: person, placeId: it.place, at: new Date(it.at) })));
    }
  });
}

export async function loadGuests(now: Instant): Promise<void> {
  await giveEnds(now);
  await readPages(now);
}
