/** How long somebody who reads a page waited at most while each endpoint was answering; measured only where that is asked for. */
import { Worker } from "node:worker_threads";
import { CONTRACTS } from "../../src/contracts/all.ts";

/** What another reader asks for: a small page that everybody may read. */
const READ = "/sign-in";
const now = () => performance.timeOrigin + performance.now();

const patterns = CONTRACTS.map(({ method, path }) => ({
  name: `${method} ${path}`,
  method,
  as: new RegExp(`^${path.replace(/[.]/g, "\\.").replace(/\{\w+\}/g, "[^/]+")}$`),
  braces: path.split("{").length,
}));

/** "GET /api/pages/{id}" of a request; those with fewer braces fit better. */
function nameOf(method: string, path: string): string {
  const bare = path.split("?")[0] ?? "";
  const fitting = patterns.filter((it) => it.method === method && it.as.test(bare)).sort((a, b) => a.braces - b.braces);
  return fitting[0]?.name ?? `${method} ${bare}`;
}

interface Answering {
  name: string;
  began: number;
  ended: number;
}

export class Waits {
  readonly longest = new Map<string, number>();
  #answering = new Set<Answering>();
  /** Asked many at once, by none of which alone anybody waits. */
  #apart = 0;
  #worker: Worker | undefined;
  readonly #address: string;

  constructor(base: string) {
    this.#address = base + READ;
  }

  watch(): void {
    this.#worker ??= new Worker(new URL("./reader.mjs", import.meta.url), { workerData: this.#address, execArgv: [] });
    this.#worker.on("message", ([from, to]: [number, number]) => this.#read(from, to));
  }

  /** Somebody read: whatever was answering meanwhile may be why they waited. */
  #read(from: number, to: number): void {
    for (const it of this.#answering) {
      if (this.#apart === 0 && from < it.ended && to > it.began)
        this.longest.set(it.name, Math.max(this.longest.get(it.name) ?? 0, to - from));
      // Reads come one after the other: none that is still to come met it.
      if (from >= it.ended) this.#answering.delete(it);
    }
  }

  /** Does a request; what a reader waited meanwhile is noted for its endpoint. */
  async during<T>(method: string, path: string, work: () => Promise<T>): Promise<T> {
    if (!this.#worker) return work();
    const it: Answering = { name: nameOf(method, path), began: now(), ended: Number.POSITIVE_INFINITY };
    this.#answering.add(it);
    try {
      return await work();
    } finally {
      it.ended = now();
    }
  }

  /** Asks many at once: what a reader waits meanwhile is nobody's alone. */
  async apart<T>(work: () => Promise<T>): Promise<T> {
    this.#apart++;
    try {
      return await work();
    } finally {
      // A read that began meanwhile is told of a little later.
      setTimeout(() => this.#apart--, 200).unref();
    }
  }

  async close(): Promise<void> {
    await this.#worker?.terminate();
  }
}
