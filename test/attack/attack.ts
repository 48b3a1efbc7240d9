/**
 * The attacker: sequences of acts across features, rights that are lost between looking and doing, nonsense, bodies that cost.
 * What gave way is told as the shortest sequence that was found, with the command that tries it again.
 */
import fc from "fast-check";
import { LOSSES } from "./losses.ts";
import { ACTS, attackBy, type Sequence, sequences, Worn } from "./sequences.ts";
import { openStage, type Stage } from "./stage.ts";

/** So many sequences on one stage; then it has grown so much that another is opened. */
const ON_ONE_STAGE = 150;

export interface Found {
  /** What gave way. */
  wrong: string;
  sequence: Sequence;
  seed: number;
  /** Where in what the seed draws. */
  path: string;
}

/** What was found, in words, with the command that tries it again; a sequence that was given comes by itself each time. */
export const toldOf = ({ wrong, sequence, seed, path }: Found): string =>
  `${wrong}\n${JSON.stringify(sequence)}${path ? `\nTry it again:  npm run attack -- --seed ${seed} --path ${path}` : ""}`;

/** A stage that is opened when it is first needed, and anew when it is worn. */
export class Stages {
  #stage: Stage | undefined;
  readonly #opened: (stage: Stage) => void;

  /** `opened`: what is done with each new stage. */
  constructor(opened: (stage: Stage) => void = () => {}) {
    this.#opened = opened;
  }

  async now(): Promise<Stage> {
    if (!this.#stage) {
      this.#stage = await openStage();
      this.#opened(this.#stage);
    }
    return this.#stage;
  }

  async leave(): Promise<void> {
    await this.#stage?.close();
    this.#stage = undefined;
  }
}

/** Tries one sequence; of a stage that was worn by it, another takes the place. */
async function tries(stages: Stages, sequence: Sequence): Promise<void> {
  try {
    await attackBy(await stages.now(), sequence);
  } catch (error) {
    if (!(error instanceof Worn)) throw error;
    await stages.leave();
  }
}

interface HowLong {
  seed: number;
  /** At most so many sequences, and so long. */
  runs?: number;
  milliseconds?: number;
  /** Only the one that failed. */
  path?: string | undefined;
}

/** Draws sequences and tries them; returns what gave way, as short as it could be made. */
export async function attackBySequences(stages: Stages, { seed, runs = ON_ONE_STAGE, milliseconds, path }: HowLong): Promise<Found | null> {
  const property = fc.asyncProperty(sequences, (sequence) => tries(stages, sequence));
  const details = await fc.check(property, {
    seed,
    numRuns: runs,
    ...(milliseconds === undefined ? {} : { interruptAfterTimeLimit: milliseconds }),
    ...(path === undefined ? {} : { path, endOnFailure: true }),
  });
  if (!details.failed || !details.counterexample) return null;
  const wrong = details.errorInstance instanceof Error ? (details.errorInstance.stack ?? details.errorInstance.message) : "";
  const sequence = await shortest(stages, details.counterexample[0]);
  return { wrong, sequence, seed: details.seed, path: details.counterexamplePath ?? "" };
}

/** Leaves out what is not needed for it to give way, step by step. */
async function shortest(stages: Stages, sequence: Sequence): Promise<Sequence> {
  for (let i = 0; i < sequence.steps.length; i++) {
    const shorter = { ...sequence, steps: sequence.steps.filter((_, at) => at !== i) };
    const fails = await tries(stages, shorter).then(
      () => false,
      () => true,
    );
    if (fails) return shortest(stages, shorter);
  }
  return sequence;
}

/** Every act, by those who may it, each time after they lost a right in another way: in an order that the seed draws. */
export function afterEachLoss(seed: number): Sequence[] {
  const all = Object.keys(ACTS).flatMap((act) =>
    Object.keys(LOSSES).flatMap((lose) =>
      LOSERS.map(
        ({ who, on }): Sequence => ({ beginning: { asks: false, preset: "openHouse" }, steps: [{ act, who, on, other: 4, way: 0, lose }] }),
      ),
    ),
  );
  const [shuffled] = fc.sample(fc.shuffledSubarray(all, { minLength: all.length }), { seed, numRuns: 1 });
  return shuffled ?? [];
}

/** Who has rights to lose, and on which of a world's pages: keeper, publisher, writer of a draft of their own, guest. */
const LOSERS = [
  { who: "maren", on: 0 },
  { who: "lena", on: 0 },
  { who: "mei", on: 1 },
  { who: "dora", on: 0 },
] as const;

/** Tries sequences that are given; returns the first that gave way. */
export async function attackByEach(stages: Stages, given: readonly Sequence[], goesOn: () => boolean = () => true): Promise<Found | null> {
  for (const sequence of given) {
    if (!goesOn()) break;
    const error = await tries(stages, sequence).then(
      () => null,
      (it) => it as Error,
    );
    if (error) return { wrong: error.stack ?? error.message, sequence, seed: 0, path: "" };
  }
  return null;
}
