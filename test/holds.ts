/**
 * Properties on random worlds: how many of them a run tries, and how one that failed is tried again. 5,000 stands for an
 * ordinary run; `TESORO_WORLDS=50000` tries ten times as many of every property, `TESORO_REPLAY` just one that failed.
 */
import fc from "fast-check";
import { expect } from "vitest";

const ORDINARY = 5_000;
const FACTOR = Number(process.env.TESORO_WORLDS ?? ORDINARY) / ORDINARY;
if (!(FACTOR > 0))
  throw new Error(`TESORO_WORLDS is a number of worlds, ${ORDINARY} for an ordinary run; not "${process.env.TESORO_WORLDS}".`);

export interface HowMany<Ts> {
  /** How many worlds an ordinary run tries. */
  runs: number;
  /** Worlds that failed once: tried first, every time. */
  kept?: Ts[];
  /** Drawn from this seed always, where a test of what came out goes by it. */
  seed?: number;
  /** A failing world is told as it was drawn, where making it smaller takes too long. */
  asDrawn?: boolean;
}

const scaled = (runs: number): number => Math.round(runs * FACTOR);

/** The seed and the path to the world that failed, as `TESORO_REPLAY` names them. */
function replayed(): { seed: number; path: string; endOnFailure: true } | undefined {
  const [, seed, path = ""] = /^(-?\d+)\/([\d:]+)$/.exec(process.env.TESORO_REPLAY ?? "") ?? [];
  return seed === undefined ? undefined : { seed: Number(seed), path, endOnFailure: true };
}

/** The command that tries a world again that failed. */
function commandFor(seed: number, path: string | null): string {
  const { testPath = "", currentTestName = "" } = expect.getState();
  const file = testPath.replace(`${process.cwd()}/`, "");
  // Names of groups and of the test stand one after the other; whatever a pattern or the shell would read as more is any character.
  const name = currentTestName.replaceAll(" > ", " ").replaceAll(/[^\w ,:;-]/g, ".");
  return `TESORO_REPLAY=${seed}/${path ?? ""} npm test -- ${file} -t "${name}"`;
}

function judge<Ts>(details: fc.RunDetails<Ts>): void {
  if (!details.failed) return;
  const message = fc.defaultReportMessage(details as unknown as fc.RunDetails<unknown[]>);
  const command = commandFor(details.seed, details.counterexamplePath);
  throw new Error(`${message}\n\nTry this world again:  ${command}\n`, { cause: details.errorInstance });
}

export function holds<Ts>(property: fc.IProperty<Ts>, how?: HowMany<Ts>): void;
export function holds<Ts>(property: fc.IAsyncProperty<Ts>, how?: HowMany<Ts>): Promise<void>;
/** Throws where the property does not hold for some world, and says how to try that one again. */
export function holds<Ts>(property: fc.IProperty<Ts> | fc.IAsyncProperty<Ts>, how: HowMany<Ts> = { runs: 100 }): void | Promise<void> {
  const { runs, kept = [], seed, asDrawn = false } = how;
  const drawn = { numRuns: scaled(runs) + kept.length, examples: kept, endOnFailure: asDrawn, ...(seed === undefined ? {} : { seed }) };
  const details = fc.check(property as fc.IProperty<Ts>, { ...drawn, ...replayed() }) as fc.RunDetails<Ts> | Promise<fc.RunDetails<Ts>>;
  return details instanceof Promise ? details.then(judge) : judge(details);
}

/** So many random things, always the same for a seed; more of them where more worlds are asked for. */
export const drawn = <T>(arbitrary: fc.Arbitrary<T>, { runs, seed }: { runs: number; seed: number }): T[] =>
  fc.sample(arbitrary, { numRuns: scaled(runs), seed });
