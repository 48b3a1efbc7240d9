/** Sequences of acts from different features on the same pages and people, each in a world of its own; what gave way is made as short as it goes. */

import { sql } from "drizzle-orm";
import fc from "fast-check";
import { database } from "../../src/server/db/client.ts";
import type { Answer } from "../system/doors.ts";
import type { Act, Doing, Step } from "./act.ts";
import { givenBeyond, INVARIANTS, spacesThatAsk, wordsLiveIn } from "./invariants.ts";
import { JOINING } from "./joining.ts";
import { LIFE } from "./life.ts";
import { LOSSES } from "./losses.ts";
import { type Actor, CAST, type Stage } from "./stage.ts";
import { type Beginning, makeWorld, type World } from "./world.ts";
import { WRITING } from "./writing.ts";

export const ACTS: Record<string, Act> = { ...WRITING, ...LIFE, ...JOINING };

export interface Sequence {
  beginning: Beginning;
  steps: Step[];
}

const beginning: fc.Arbitrary<Beginning> = fc.record({
  asks: fc.boolean(),
  preset: fc.constantFrom("openHouse", "commonRoom", "closedRoom"),
});

/** Those who may much are drawn more often, or most of it would be refused at the door. */
const OFTEN: readonly Actor[] = ["maren", "maren", "maren", "maren", "ines", "ines", "ines", "lena", "lena", "mei"];

const step: fc.Arbitrary<Step> = fc.record({
  act: fc.constantFrom(...Object.keys(ACTS)),
  who: fc.constantFrom(...CAST, ...OFTEN),
  on: fc.nat(3),
  other: fc.nat(CAST.length - 1),
  way: fc.nat(83),
  lose: fc.oneof({ weight: 4, arbitrary: fc.constant(null) }, { weight: 1, arbitrary: fc.constantFrom(...Object.keys(LOSSES)) }),
});

export const sequences: fc.Arbitrary<Sequence> = fc.record({
  beginning,
  steps: fc.array(step, { minLength: 1, maxLength: 8, size: "max" }),
});

/** How often each act was done and refused: an attack that gets nowhere attacks nothing. */
export const tally = new Map<string, { done: number; refused: number }>();

async function lastEntry(): Promise<number> {
  const [row] = await database().execute<{ n: string | null }>(sql`select max(seq) as n from ledger`);
  return Number(row?.n ?? 0);
}

/** What came of an act: nothing, or what must not be. */
async function judge(it: Doing, name: string, answer: Answer, before: Awaited<ReturnType<Stage["document"]>>, seq: number): Promise<void> {
  const { stage, who, page } = it;
  const act = ACTS[name];
  const counted = tally.get(name) ?? { done: 0, refused: 0 };
  tally.set(name, counted);
  if (answer.status >= 500) throw new Error(`"${name}" is answered ${answer.status}: ${answer.text.slice(0, 300)}`);
  if (answer.status !== 200) {
    counted.refused++;
    if (it.world.due.length === 0 && (await lastEntry()) !== seq)
      throw new Error(`"${name}" was refused, and wrote an entry of the ledger`);
    return;
  }
  counted.done++;
  if (act?.may(it, before) === false) throw new Error(`${who} did "${name}" on ${page}, and may not`);
  const beyond = givenBeyond(it, before, await stage.document());
  if (beyond) throw new Error(`By "${name}" ${beyond}`);
}

async function doStep(stage: Stage, world: World, { act: name, who, on, other, way, lose }: Step): Promise<void> {
  const page = [world.live, world.draft, world.below, world.elsewhere][on] ?? world.live;
  let [before, seq] = [await stage.document(), await lastEntry()];
  const asked = await spacesThatAsk();
  const live = new Map(await Promise.all([world.own, world.other].map(async (id) => [id, await wordsLiveIn(before, id)] as const)));
  const pause = async () => {
    const loss = lose !== null && who !== "ines" && who !== "public" ? LOSSES[lose] : undefined;
    await loss?.(stage, world, who, page);
    if (loss) [before, seq] = [await stage.document(), await lastEntry()];
  };
  const it: Doing = { stage, world, who, page, other: CAST[other] ?? "mei", way, pause };
  const answer = await ACTS[name]?.do(it);
  // What is live when a space begins to ask stays what it shows.
  for (const id of await spacesThatAsk()) if (!asked.has(id)) for (const word of live.get(id) ?? []) world.passed.add(word);
  if (answer) await judge(it, name, answer, before, seq);
}

/** Waits until what was set for an instant has been looked at. */
async function waitForDue({ due }: World): Promise<void> {
  if (due.length === 0) return;
  await new Promise((later) => setTimeout(later, Math.max(0, Math.max(...due) - Date.now()) + 1_500));
}

/** Does a sequence in a world of its own; throws where something gave way. */
export async function attackBy(stage: Stage, { beginning: begun, steps }: Sequence): Promise<void> {
  try {
    const world = await makeWorld(stage, begun);
    for (const one of steps) await doStep(stage, world, one);
    await waitForDue(world);
    const document = await stage.document();
    for (const [name, check] of Object.entries(INVARIANTS)) {
      const wrong = await check(stage, world, document);
      if (wrong) throw new Error(`Not so: ${name}. ${wrong}`);
    }
  } finally {
    await mend(stage);
  }
}

/** Whether who acts is as they were; a stage on which they cannot be made so is worn. */
export class Worn extends Error {}

async function mend(stage: Stage): Promise<void> {
  const after = await stage.document();
  for (const who of CAST) {
    const [was, is] = [stage.first, after].map(({ people }) => people.find(({ id }) => id === who));
    if (!was || !is || JSON.stringify(was) === JSON.stringify(is)) continue;
    const { status } = await stage.make("ines", [{ kind: "person", person: who, remove: is, put: was }], "Mended.");
    if (status !== 200) throw new Worn();
    await stage.signIn(who);
  }
  const pilots = ({ groups }: typeof after) => JSON.stringify(groups.find(({ id }) => id === "pilots"));
  if (pilots(after) !== pilots(stage.first)) throw new Worn();
}
