/** Sequences of acts from different features on the same pages and people, each in a world of its own; what gave way is made as short as it goes. */

import { sql } from "drizzle-orm";
import fc from "fast-check";
import type { AccessDocument } from "../../src/core/access/model/index.ts";
import { database } from "../../src/server/db/client.ts";
import { textArray } from "../../src/server/db/textArray.ts";
import type { Answer } from "../system/doors.ts";
import { type Act, type Doing, type Step, spaceIdIn } from "./act.ts";
import { givenBeyond, INVARIANTS, spacesThatAsk } from "./invariants.ts";
import { JOINING } from "./joining.ts";
import { LIFE } from "./life.ts";
import { LOSSES } from "./losses.ts";
import { wordsShown } from "./shown.ts";
import { type Actor, CAST, type Stage } from "./stage.ts";
import { type Beginning, ids, makeWorld, type World } from "./world.ts";
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

/** Acts that lead on from one another: drawn one by one they would hardly ever meet. */
const STORIES: readonly (readonly string[])[] = [
  ["save", "give in", "approve", "publish"],
  ["give in", "approve", "save", "publish"],
  ["ask for approval", "publish elsewhere"],
  ["archive", "move", "unarchive"],
  ["bin", "restore"],
  ["bin", "take back", "restore"],
  ["ask a guest in", "take an invitation up"],
  ["ask a guest in", "bring people in by a table", "take an invitation up"],
  ["ask a guest in", "ask a guest in", "take an invitation up"],
  ["ask a guest in", "end the invitation", "send it again", "take an invitation up"],
  ["ask a guest in", "give who was asked in more", "take an invitation up"],
  ["ask to be let in", "let in"],
  ["fence", "step in"],
  ["grant", "take back"],
  ["go live at a time", "ask for approval"],
  ["job", "take back"],
  ["archive the space", "publish elsewhere", "archive the space"],
];
const story: fc.Arbitrary<Step[]> = fc
  .record({ acts: fc.constantFrom(...STORIES), on: fc.nat(3), steps: fc.array(step, { minLength: 4, maxLength: 4 }) })
  .map(({ acts, on, steps }) => acts.map((act, i) => ({ ...(steps[i] as Step), act, on })));

export const sequences: fc.Arbitrary<Sequence> = fc.record({
  beginning,
  steps: fc
    .array(
      fc.oneof(
        step.map((it) => [it]),
        story,
      ),
      { minLength: 1, maxLength: 4, size: "max" },
    )
    .map((parts) => parts.flat()),
});

/** How often each act was done and refused: an attack that gets nowhere attacks nothing. */
export const tally = new Map<string, { done: number; refused: number; why: string }>();

/** The newest entry of the ledger about a world, or about no place and by whoever acts: what was set for a time may go on in an earlier world. */
async function lastEntry(world: World, who: Actor): Promise<number> {
  const [row] = await database().execute<{ n: string | null }>(
    sql`select max(seq) as n from ledger where places && ${textArray(ids(world))} or (cardinality(places) = 0 and maker = ${who})`,
  );
  return Number(row?.n ?? 0);
}

interface Around {
  before: AccessDocument;
  after: AccessDocument;
}

/** What came of an act: nothing, or what must not be. */
async function judge(it: Doing, name: string, answer: Answer, { before, after }: Around, seq: number): Promise<void> {
  const { who, page } = it;
  const act = ACTS[name];
  const counted = tally.get(name) ?? { done: 0, refused: 0, why: "" };
  tally.set(name, counted);
  if (answer.status >= 500) throw new Error(`"${name}" is answered ${answer.status}: ${answer.text.slice(0, 300)}`);
  if (answer.status !== 200) {
    counted.refused++;
    counted.why = `${answer.status} ${answer.text.slice(0, 160)}`;
    if (it.world.due.length === 0 && (await lastEntry(it.world, who)) !== seq)
      throw new Error(`"${name}" was refused, and wrote an entry of the ledger`);
    return;
  }
  counted.done++;
  if (act?.may(it, before) === false) throw new Error(`${who} did "${name}" on ${page}, and may not`);
  const beyond = givenBeyond(it, before, after);
  if (beyond) throw new Error(`By "${name}" ${beyond}`);
}

/** Does one step; returns the rules as they are after it. */
async function doStep(
  stage: Stage,
  world: World,
  rules: AccessDocument,
  { act: name, who, on, other, way, lose }: Step,
): Promise<AccessDocument> {
  const page = [world.live, world.draft, world.below, world.elsewhere][on] ?? world.live;
  let [before, seq] = [rules, await lastEntry(world, who)];
  const [asked, shown] = [await spacesThatAsk(), await wordsShown()];
  const pause = async () => {
    const loss = lose !== null && who !== "ines" && who !== "public" ? LOSSES[lose] : undefined;
    await loss?.(stage, world, who, page);
    if (loss) [before, seq] = [await stage.document(), await lastEntry(world, who)];
  };
  const it: Doing = { stage, world, who, page, other: CAST[other] ?? "mei", way, pause };
  const answer = await ACTS[name]?.do(it);
  // What is live when a space begins to ask stays what it shows.
  for (const space of await spacesThatAsk())
    if (!asked.has(space)) for (const [id, word] of shown) if (spaceIdIn(before, id) === space) world.passed.add(`${id} ${word}`);
  const after = await stage.document();
  if (answer) await judge(it, name, answer, { before, after }, seq);
  return after;
}

/** Waits until what was set for an instant has been looked at. */
async function waitForDue({ due }: World): Promise<void> {
  if (due.length === 0) return;
  await new Promise((later) => setTimeout(later, Math.max(0, Math.max(...due) - Date.now()) + 1_500));
}

/** Does a sequence in a world of its own; throws where something gave way. */
export async function attackBy(stage: Stage, { beginning: begun, steps }: Sequence): Promise<void> {
  try {
    const world = await makeWorld(
      stage,
      begun,
      steps.reduce((sum, { on, other, way }) => sum + on + other + way, 0),
    );
    let rules = await stage.document();
    for (const one of steps) rules = await doStep(stage, world, rules, one);
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
