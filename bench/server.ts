/** Measures a served large site: reader pages, the grid and searches, many clients at once at a set rate. */

import { openSite } from "../cli/testing/site.ts";
import { Dice } from "../src/demo/large/dice.ts";
import { largeDocument } from "../src/demo/large/document.ts";
import { type LifeFigures, measureLife } from "./life.ts";
import { now, quantile } from "./measuring.ts";

export interface ServerFigures {
  clients: number;
  /** Requests a second, all clients together. */
  rate: number;
  requests: number;
  errors: number;
  readerP95: number;
  gridP95: number;
  gridRows: number;
  searchKeeperP95: number;
  searchGuestP95: number;
  life: LifeFigures;
}

const CLIENTS = 50;
const RATE = 100;
const SECONDS = 20;
/** One request in ten is for the grid, the others for reader pages. */
const GRID_SHARE = 0.1;
const SEARCHES = 60;

async function signIn(base: string, person: string): Promise<string> {
  const answer = await fetch(`${base}/sign-in`, {
    method: "POST",
    redirect: "manual",
    headers: { origin: base },
    body: new URLSearchParams({ person }),
  });
  return answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(";")[0])
    .join("; ");
}

interface Outcome {
  times: { kind: string; ms: number }[];
  errors: number;
}

const of = ({ times }: Outcome, kind: string): number[] => times.filter((it) => it.kind === kind).map(({ ms }) => ms);

async function timedFetch({ url, cookie }: { url: string; cookie: string }): Promise<number> {
  const start = now();
  await (await fetch(url, { headers: { cookie } })).arrayBuffer();
  return now() - start;
}

/** Each client asks at its own beat, whether or not the answer before has come: a slow server is not spared. */
async function load(next: () => { url: string; cookie: string; kind: string }): Promise<Outcome> {
  const outcome: Outcome = { times: [], errors: 0 };
  const beat = (1000 * CLIENTS) / RATE;
  const running: Promise<void>[] = [];
  const ask = async () => {
    const { url, cookie, kind } = next();
    const start = now();
    try {
      const answer = await fetch(url, { headers: { cookie }, redirect: "manual" });
      await answer.arrayBuffer();
      if (answer.status >= 400) outcome.errors++;
    } catch {
      outcome.errors++;
    }
    outcome.times.push({ kind, ms: now() - start });
  };
  const client = async (number: number) => {
    await new Promise((later) => setTimeout(later, (beat / CLIENTS) * number));
    const end = now() + SECONDS * 1000;
    while (now() < end) {
      running.push(ask());
      await new Promise((later) => setTimeout(later, beat));
    }
  };
  await Promise.all(Array.from({ length: CLIENTS }, (_, i) => client(i)));
  await Promise.all(running);
  return outcome;
}

export async function measureServer(progress: (text: string) => void): Promise<ServerFigures> {
  progress("Loading the large site into a database of its own …");
  const site = await openSite("schema", async () => (await import("../src/demo/large/load.ts")).loadLarge());
  try {
    const { base } = site;
    const document = largeDocument();
    const active = document.people.filter(({ status }) => status === "active");
    const keeper = await signIn(base, "p0");
    const member = await signIn(base, active.find(({ kind }, i) => i > 0 && kind === "member")?.id ?? "");
    const guest = await signIn(base, active.find(({ kind }) => kind === "guest")?.id ?? "");
    const dice = new Dice(3);
    const live = document.places.filter(({ kind, state }) => kind === "page" && state === "live");
    const api = (path: string, cookie: string) => fetch(base + path, { headers: { cookie } }).then((answer) => answer.json());
    const spaces = document.places.filter(({ kind }) => kind === "space").map(({ id }) => id);
    progress("Warming up …");
    const readable: { url: string; cookie: string }[] = [];
    for (let i = 0; readable.length < 300 && i < 3000; i++) {
      const page = dice.pick(live);
      const cookie = dice.pick([member, member, guest]);
      const url = `${base}/read/s0/x-${page.id}`;
      const answer = await fetch(url, { headers: { cookie }, redirect: "manual" });
      await answer.arrayBuffer();
      const address = answer.headers.get("location");
      if (answer.status === 301 && address) readable.push({ url: new URL(address, base).href, cookie });
    }
    const gridRows = (await api(`/api/grid?open=${spaces[9]}`, keeper)).rows.length;
    const words = ["tide", "mooring", "buoys", "storm", "crane", "fog horn", "night shift"];
    const find = (cookie: string) => () => ({ url: `${base}/api/search?q=${encodeURIComponent(dice.pick(words))}`, cookie });
    for (const it of [find(keeper), find(guest)]) await fetch(it().url, { headers: { cookie: it().cookie } });
    progress(`${CLIENTS} clients, ${RATE} requests a second, ${SECONDS} s each: reader pages, grid, searches …`);
    const grid = () => ({ url: `${base}/api/grid?columns=public,guests,members&open=${dice.pick(spaces.slice(5))}`, cookie: keeper });
    const mixed = await load(() => (dice.chance(GRID_SHARE) ? { ...grid(), kind: "grid" } : { ...dice.pick(readable), kind: "reader" }));
    const searches = async (cookie: string) => {
      const times: number[] = [];
      for (let i = 0; i < SEARCHES; i++) times.push(await timedFetch(find(cookie)()));
      return quantile(times, 0.95);
    };
    const life = await measureLife(progress, active.find(({ kind }, i) => i > 0 && kind === "member")?.id ?? "");
    return {
      life,
      clients: CLIENTS,
      rate: RATE,
      requests: mixed.times.length,
      errors: mixed.errors,
      readerP95: quantile(of(mixed, "reader"), 0.95),
      gridP95: quantile(of(mixed, "grid"), 0.95),
      gridRows,
      searchKeeperP95: await searches(keeper),
      searchGuestP95: await searches(guest),
    };
  } finally {
    await site.close();
  }
}
