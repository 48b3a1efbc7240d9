/** Notices by mail once a day: together, once, and nothing in them that their reader may not know of by then. */
import { eq } from "drizzle-orm";
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../../test/database.ts";
import { database, inChange } from "../../db/client.ts";
import { mails, notices } from "../../db/schema/index.ts";
import { addNotice } from "../../notices/notices.ts";
import { makeChange } from "../change/apply.ts";
import { raiseFlag } from "../review/settling.ts";
import { readMailWish, sendDaily, setMailWish } from "./daily.ts";
import { mailOf } from "./kinds.ts";

onDatabase("demo");
beforeAll(async () => {
  while ((await mailOf()).length > 0);
});

const DAY = 86_400_000;
const flag = (place: string, note: string) => raiseFlag("mei", { places: [place], kind: "doubtful", note });
/** A routine tells jonas of something. */
const told = (about: Record<string, string>) =>
  inChange((tx) => addNotice(tx, { kind: "routine", personId: "jonas", about, at: new Date() }));
const lettersTo = async (address: string) =>
  (await database().select().from(mails).where(eq(mails.to, address))).map(({ subject, body }) => ({ subject, body }));
const ADDRESS = "jonas@brinehaven.invalid";
/** A noon in Lisbon, whenever this runs. */
const noon = new Date(`${new Date().toISOString().slice(0, 10)}T12:30:00Z`).getTime();

it("comes as one letter a day at the hour one said, with what waits by then and one may still read", async () => {
  await setMailWish("jonas", "daily", 11, "Europe/Lisbon");
  expect(await readMailWish("jonas")).toEqual({ how: "daily", hour: 11, zone: "Europe/Lisbon" });
  const before = await lettersTo(ADDRESS);
  await flag("shiftbook", "The relief comes at six.");
  await told({ name: "Old pages", note: "Look.", pages: "cranes,patrols" });
  await mailOf();
  expect(await sendDaily(noon - 6 * 3_600_000)).toBe(0);
  expect(await lettersTo(ADDRESS)).toEqual(before);
  expect(await Promise.all([sendDaily(noon), sendDaily(noon)]).then(([a, b]) => a + b)).toBe(1);
  expect(await sendDaily(noon + 3_600_000)).toBe(0);
  const [letter, ...others] = (await lettersTo(ADDRESS)).slice(before.length);
  expect(others).toEqual([]);
  expect(letter?.subject).toBe("2 notices of today");
  expect(letter?.body).toContain("The relief comes at six.");
  expect(letter?.body).toContain("Cranes: daily check");
  // What jonas may not read is not in it, whatever the notice says.
  expect(letter?.body).not.toContain("Patrol");
});

it("leaves out what one may not read any more by then, and what one never wants", async () => {
  await flag("cranes", "Crane 3 lifts more.");
  const edits = [{ kind: "fence" as const, place: "cranes", put: { kind: "read" as const, admits: [{ person: "maren" }] } }];
  await inChange((tx) => makeChange(tx, { maker: "maren", edits, act: "rules", note: "" }));
  await told({ name: "Old", note: "", pages: "cranes" });
  const before = await lettersTo(ADDRESS);
  expect(await sendDaily(noon + DAY)).toBe(0);
  expect(await lettersTo(ADDRESS)).toEqual(before);
  await setMailWish("jonas", "never", 7, "nonsense");
  expect((await readMailWish("jonas")).zone).toBe("UTC");
  await flag("shiftbook", "Once more.");
  await told({ name: "Old", note: "", pages: "shiftbook" });
  await sendDaily(noon + 2 * DAY);
  await mailOf();
  expect(await lettersTo(ADDRESS)).toEqual(before);
  expect(await database().select().from(notices).where(eq(notices.mail, "waiting"))).toEqual([]);
});

it("is not lost where no server takes it: it comes with a later look of that day, once", async () => {
  await setMailWish("jonas", "daily", 7, "Europe/Lisbon");
  await told({ name: "Old", note: "And once again.", pages: "shiftbook" });
  const before = await lettersTo(ADDRESS);
  process.env.TESORO_SMTP = "smtp://127.0.0.1:1";
  try {
    expect(await sendDaily(noon + 4 * DAY)).toBe(0);
  } finally {
    delete process.env.TESORO_SMTP;
  }
  expect(await lettersTo(ADDRESS)).toEqual(before);
  expect([await sendDaily(noon + 4 * DAY), await sendDaily(noon + 4 * DAY)]).toEqual([1, 0]);
  expect((await lettersTo(ADDRESS)).at(-1)?.body).toContain("And once again.");
});
