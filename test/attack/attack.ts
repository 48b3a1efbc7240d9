/**
 * The attacker: sequences of acts across features, rights that are lost between looking and doing, nonsense, bodies that cost.
 * What gave way is told as the shortest sequence that was found, with the command that tries it again.
 */
import fc from "fast-check";
import { attackBy, type Sequence, sequences, Worn } from "./sequences.ts";
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
  return { wrong, sequence: details.counterexample[0], seed: details.seed, path: details.counterexamplePath ?? "" };
}
