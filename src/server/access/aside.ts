/**
 * Work that may take long, done aside: in a thread of its own with an index of its own, within a bound of time and memory,
 * so that nobody else waits for it. The server process brings the threads (`cli/aside/`); where there are none, as in
 * tests, it is done here.
 */

import { below, placeOf } from "../../core/access/index/index.ts";
import { type Edit, placeOfEdit } from "../../core/access/model/index.ts";
import { Trouble } from "../trouble.ts";
import { accessNow } from "./current.ts";

/** Runs a task by its name; its arguments, of which the first says for whom, and its answer are plain data. */
export type RunAside = (task: string, args: readonly unknown[]) => Promise<unknown>;

declare global {
  var tesoroAside: RunAside | undefined;
}

/** From so many places in reach on, a change is worked out aside. */
const FAR = 4_000;

/** Whether a change reaches so far that working it out would keep others waiting: through the site, people, groups, large branches. */
async function reachesFar(edits: readonly Edit[], also: readonly string[], whole: boolean): Promise<boolean> {
  const { index } = await accessNow();
  if (index.places.length < FAR) return false;
  if (whole) return true;
  const ids = [...edits.map(placeOfEdit), ...also];
  const reached = ids.map((id) => {
    const place = id === null ? undefined : placeOf(index, id);
    if (id !== null && !place) return 0;
    if (!place || place.number === index.site) return index.places.length;
    return place.place.kind === "space"
      ? (index.blocks[index.blockOf[place.number] as number]?.places.length ?? 0)
      : below(index, place).length;
  });
  return reached.reduce((sum, count) => sum + count, 0) >= FAR;
}

/** A refusal from another thread is one of this program's own again. */
function asTrouble(error: unknown): unknown {
  const { status, code, message, details } = (error ?? {}) as Partial<Trouble>;
  return typeof status === "number" && typeof code === "string" ? new Trouble(status, code, message ?? "", details) : error;
}

interface Reach {
  /** It is about the whole site, or its past. */
  whole?: boolean;
  edits?: readonly Edit[];
  places?: readonly string[];
  /** What is asked before the task goes aside: whoever may not do it keeps nobody waiting. */
  first(): Promise<unknown>;
}

/** Does a task here, or aside where its edits (or what is asked about these places) reach far. */
export async function whereItFits<T>(
  task: string,
  args: readonly unknown[],
  { whole = false, edits = [], places = [], first }: Reach,
  here: () => Promise<T>,
): Promise<T> {
  const run = globalThis.tesoroAside;
  if (!run || !(await reachesFar(edits, places, whole))) return here();
  await first();
  try {
    return (await run(task, args)) as T;
  } catch (error) {
    throw asTrouble(error);
  }
}

/**
 * A task that is about the whole site: people, passes, new spaces. Done here on a small site, aside on a large one. `first` is
 * asked before, wherever it is done: whoever may not do it hears that, and keeps nobody waiting.
 */
export function ofWholeSite<H extends (...args: never[]) => Promise<unknown>>(
  task: string,
  first: (...args: Parameters<H>) => Promise<unknown>,
  here: H,
): (...args: Parameters<H>) => ReturnType<H> {
  const run = async (...args: Parameters<H>) => {
    await first(...args);
    return whereItFits(task, args, { whole: true, first: async () => {} }, () => here(...args));
  };
  return run as (...args: Parameters<H>) => ReturnType<H>;
}
