/** Measuring: how often in a second, how long at the median and at the 95th of a hundred, how much memory. */

export const now = (): number => performance.now();

export function timed<T>(work: () => T): { ms: number; result: T } {
  const start = now();
  const result = work();
  return { ms: now() - start, result };
}

/** The best of several times, in milliseconds: what the work takes when nothing else interrupts it. */
export function best(times: number, work: () => void): number {
  return Math.min(...Array.from({ length: times }, () => timed(work).ms));
}

export function quantile(list: readonly number[], q: number): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * q))] ?? Number.NaN;
}

/** Decisions a second: goes round the questions until `ms` have passed. */
export function rate<T>(questions: readonly T[], decide: (question: T) => unknown, ms: number): number {
  const start = now();
  let count = 0;
  while (now() - start < ms) {
    for (let i = 0; i < 16; i++) decide(questions[count++ % questions.length] as T);
  }
  return (count / (now() - start)) * 1000;
}

/** Bytes in use after collecting what nobody needs; Node.js runs with --expose-gc. */
export function memory(): number {
  const collect = (globalThis as { gc?: () => void }).gc;
  collect?.();
  collect?.();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}
