/** Threads for what may take long: a bound of time and memory for each task, a bound for how many wait. */
import { Worker } from "node:worker_threads";
import type { RunAside } from "../../src/server/access/aside.ts";
import { Trouble } from "../../src/server/trouble.ts";
import type { Answered } from "./work.ts";

const SECONDS = 60;
const MEGABYTES = 3_000;
const MOST_WAITING = 12;
/** So many of one person, running or waiting: nobody fills the queue for all others. */
const MOST_OF_ONE = 2;

interface Task {
  task: string;
  args: readonly unknown[];
  resolve(value: unknown): void;
  reject(error: unknown): void;
}

const busy = () =>
  new Trouble(503, "busy", "Other changes that reach far are being worked out. Nothing was changed; try again in a moment.");
const busyYourself = () =>
  new Trouble(
    503,
    "busy",
    "Two of your changes that reach far are being worked out already. Nothing was changed; wait for them, then try again.",
  );
const tooFar = () =>
  new Trouble(
    503,
    "tooFar",
    `Working this out takes more than ${SECONDS} seconds or more memory than it may. Nothing was changed; do it in smaller parts.`,
  );

/** `work.ts`, as it is built beside the server process (`process.config.ts`). */
const THREAD = new URL("./aside.mjs", import.meta.url);

/** One thread, begun when it is first needed and anew when it had to be stopped. */
export class Pool {
  private worker: Worker | null = null;
  private running: (Task & { id: number; timer: NodeJS.Timeout }) | null = null;
  private readonly waiting: Task[] = [];
  private last = 0;

  readonly run: RunAside = (task, args) =>
    new Promise((resolve, reject) => {
      const own = [...this.waiting, ...(this.running ? [this.running] : [])].filter((it) => it.args[0] === args[0]);
      if (own.length >= MOST_OF_ONE) return reject(busyYourself());
      if (this.waiting.length >= MOST_WAITING) return reject(busy());
      this.waiting.push({ task, args, resolve, reject });
      this.next();
    });

  private thread(): Worker {
    if (this.worker) return this.worker;
    const worker = new Worker(THREAD, {
      resourceLimits: { maxOldGenerationSizeMb: MEGABYTES },
    });
    worker.on("message", (answer: Answered) => this.done(answer));
    worker.on("error", () => this.lost(worker));
    worker.on("exit", () => this.lost(worker));
    worker.unref();
    this.worker = worker;
    return worker;
  }

  private next(): void {
    if (this.running) return;
    const task = this.waiting.shift();
    if (!task) return;
    const id = ++this.last;
    const timer = setTimeout(() => void this.worker?.terminate(), SECONDS * 1000);
    this.running = { ...task, id, timer };
    this.thread().postMessage({ id, task: task.task, args: task.args });
  }

  private done(answer: Answered): void {
    const task = this.running;
    if (!task || task.id !== answer.id) return;
    clearTimeout(task.timer);
    this.running = null;
    if ("value" in answer) task.resolve(answer.value);
    else {
      const { status, code, message, details } = answer.trouble;
      task.reject(new Trouble(status, code, message, details));
    }
    this.next();
  }

  /** A thread that ended under its task: over its time or its memory. The task comes to nothing, the next gets a new thread. */
  private lost(worker: Worker): void {
    if (this.worker !== worker) return;
    this.worker = null;
    const task = this.running;
    this.running = null;
    if (task) {
      clearTimeout(task.timer);
      task.reject(tooFar());
    }
    this.next();
  }
}
