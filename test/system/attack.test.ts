/**
 * The attacker, for two minutes: sequences of acts across features, writes after each right was lost, nonsense for every
 * endpoint. For as long as one likes: `npm run attack -- --minutes 60`.
 */
import fc from "fast-check";
import { afterAll, beforeAll, expect, it } from "vitest";
import { inChange, inSnapshot } from "../../src/server/db/client.ts";
import { countViews } from "../../src/server/db/deriving.ts";
import { unfinished } from "../../src/server/jobs/running.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { afterEachLoss, attackByEach, attackBySequences, type Found, Stages, toldOf } from "../attack/attack.ts";
import { COME_TO_SOMETHING, KNOWN } from "../attack/known.ts";
import { writesAfterLoss } from "../attack/lost.ts";
import { nonsense, sendNonsense, written } from "../attack/nonsense.ts";
import { tally } from "../attack/sequences.ts";
import { drawn, holds } from "../holds.ts";

const stages = new Stages();
beforeAll(async () => void (await stages.now()));
afterAll(() => stages.leave());

/** Another each day, and the same all day: what gave way can be tried again. */
const SEED = Math.floor((globalThis.RealDate ?? Date).now() / 86_400_000);
const LONG = 600_000;

const told = (found: Found | null): string => (found === null ? "nothing" : toldOf(found));

// First, while everybody holds what they hold in the demo.
it("is refused every write once the right to it was lost", async () => expect(await writesAfterLoss(await stages.now())).toEqual([]), LONG);

it(
  "finds nothing by ways that are known, each of which leads as far as it may",
  async () => {
    expect(told(await attackByEach(stages, KNOWN))).toBe("nothing");
    expect(COME_TO_SOMETHING.filter((act) => !tally.get(act)?.done)).toEqual([]);
  },
  LONG,
);

it(
  "finds nothing by sequences of acts from different features",
  async () => expect(told(await attackBySequences(stages, { seed: SEED, runs: 10 }))).toBe("nothing"),
  LONG,
);

it(
  "finds nothing by acts whose right was lost between looking and doing",
  async () => expect(told(await attackByEach(stages, afterEachLoss(SEED).slice(0, 8)))).toBe("nothing"),
  LONG,
);

it("is never answered with a fault, and what is refused writes nothing (1,200 requests)", async () => {
  const stage = await stages.now();
  const codes = new Map<number, number>();
  await holds(
    fc.asyncProperty(nonsense, async (it) => {
      const status = await sendNonsense(stage, it);
      codes.set(status, (codes.get(status) ?? 0) + 1);
      expect([status, it.contract.method, it.contract.path]).toEqual([expect.any(Number), it.contract.method, it.contract.path]);
      expect(status).toBeLessThan(500);
    }),
    { runs: 1_200 },
  );
  // Far from every one is refused at the door, or this would try nothing behind it.
  expect(codes.get(200) ?? 0).toBeGreaterThan(20);
  expect((codes.get(400) ?? 0) + (codes.get(404) ?? 0) + (codes.get(403) ?? 0)).toBeGreaterThan(300);

  // Long work that was begun by what was accepted writes on by itself.
  while ((await unfinished()).length > 0) await new Promise((later) => setTimeout(later, 200));
  // What was read is counted by the upkeep, whenever that comes.
  await inChange((tx) => countViews(tx));
  const before = await written();
  const requests = drawn(nonsense, { runs: 250, seed: 8 }).map((it) => ({ ...it, body: { ...(it.body as object), surprise: 1 } }));
  for (const it of requests.filter(({ contract }) => contract.method !== "GET" && contract.body && typeof contract.who !== "object"))
    expect([400, 401, 403, 404, 409]).toContain(await sendNonsense(stage, it));
  expect(await written()).toEqual(before);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [] });
});
