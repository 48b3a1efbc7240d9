/** The server killed while changes are made: either all of a change is there, or nothing of it. */
import { sql } from "drizzle-orm";
import postgres from "postgres";
import { afterAll, beforeAll, expect, it } from "vitest";
import { answers, freePort } from "../../cli/postgres.ts";
import { serve } from "../../cli/serving.ts";
import { openDemoAlone, type TestSite } from "../../cli/testing/site.ts";
import { closeDatabase, database, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { houseRules } from "../../src/server/db/schema/index.ts";
import { goOnWithJob, lookAtMany, orderJob, readJob } from "../../src/server/services/jobs/jobs.ts";
import { checkLedger, readLedger } from "../../src/server/services/ledger/ledgerView.ts";
import { startPage } from "../../src/server/services/writing/writing.ts";
import { signInDemo } from "./signIn.ts";

let site: TestSite;
beforeAll(async () => {
  site = await openDemoAlone();
});
afterAll(async () => {
  await closeDatabase();
  await site?.close();
});

/** What is binned may be erased at once. */
const binKeepsNothing = () =>
  database()
    .insert(houseRules)
    .values({ rule: "binDays", value: 0 })
    .onConflictDoUpdate({ target: houseRules.rule, set: { value: 0 } });

const GROUPS = ["pilots", "dhm", "traffic", "press", "safety", "security", "works", "environment", "staffoffice", "cruise"];
const PLACES = ["cranes", "mooring", "weighbridge", "timberyard"];

it("keeps ledger and rules together after kill -9 under load", async () => {
  const cookie = await signInDemo(site.base, "maren");
  const post = async (path: string, body: unknown) => {
    const answer = await fetch(`${site.base}/api/${path}`, {
      method: "POST",
      headers: { cookie, origin: site.base, "content-type": "application/json" },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(String(answer.status));
    return answer.json();
  };
  let applied = 0;
  const change = async (place: string, group: string) => {
    const edits = [{ kind: "grant", place, put: { to: { group }, abilities: ["read", "discuss", "revise"] } }];
    const { seen } = await post("preview", { edits, columns: [] });
    await post("changes", { edits, note: `${place} ${group}`, seen });
    applied++;
    if (applied === 6) process.kill(site.pid, "SIGKILL");
  };
  await Promise.allSettled(
    PLACES.map(async (place) => {
      for (const group of GROUPS) await change(place, group);
    }),
  );
  expect(applied).toBeGreaterThanOrEqual(6);
  expect(applied).toBeLessThan(PLACES.length * GROUPS.length);

  expect(await checkLedger("ines")).toMatchObject({ sound: true });
  const made = (await readLedger("ines", { who: "maren", act: "rules" })).lines.filter((line) =>
    GROUPS.some((group) => line.note.endsWith(` ${group}`)),
  );
  // What was answered is there; of what was not, each is there whole or not at all.
  expect(made.length).toBeGreaterThanOrEqual(applied);
  const document = await inSnapshot((tx) => loadDocument(tx));
  const standing = PLACES.flatMap((id) =>
    (document.places.find((place) => place.id === id)?.grants ?? []).flatMap(({ to }) => ("group" in to ? [`${id} ${to.group}`] : [])),
  );
  expect(new Set(made.map((line) => line.note))).toEqual(new Set(standing));
});

// The server of the test before is gone: others serve the same database, one after the other.
const start = async () => serve(site.databaseUrl, "127.0.0.1", await freePort(), process.env.TESORO_SECRET ?? "");
const pause = (ms: number) => new Promise((later) => setTimeout(later, ms));

async function startMany(word: string): Promise<string[]> {
  const made: string[] = [];
  for (let i = 0; i < 240; i++) made.push((await startPage("ines", { parent: "cruise2027", as: "page", title: `${word} ${i}` })).id);
  return made;
}

async function order(act: "bin" | "erase", places: string[]): Promise<string> {
  const many = { act, places, ...(act === "erase" ? { pages: places.length } : {}) };
  const { count, seen } = await lookAtMany("ines", many);
  return (await orderJob("ines", { order: many, count, note: "", reason: "a test", seen })).id;
}

/** What the job says was done is what the document says, batch by batch; nothing in between. */
async function expectWhole(act: "bin" | "erase", id: string, made: readonly string[]) {
  const view = await readJob("ines", id);
  const known = new Map((await inSnapshot((tx) => loadDocument(tx))).places.map((place) => [place.id, place.state]));
  const gone = made.filter((it) => (act === "bin" ? known.get(it) === "binned" : !known.has(it)));
  expect([act, gone.length, view.entries.length]).toEqual([act, view.done, Math.ceil(view.done / 100)]);
  expect([act, view.skippedItems.slice(0, 2), view.done > 0]).toEqual([act, [], true]);
  return view;
}

it("leaves every batch of a job wholly before or wholly after, binning and erasing alike; whoever serves next goes on with it", async () => {
  await binKeepsNothing();
  const made = await startMany("Herring list");
  for (const act of ["bin", "erase"] as const) {
    const id = await order(act, made);
    const first = await start();
    for (let i = 0; i < 2_000 && (await readJob("ines", id)).done === 0; i++) await pause(10);
    process.kill(first.pid, "SIGKILL");
    await pause(500);
    expect(await expectWhole(act, id, made)).toMatchObject({ problem: null });
    const second = await start();
    for (let i = 0; i < 1_200 && (await readJob("ines", id)).state !== "done"; i++) await pause(50);
    expect(await readJob("ines", id)).toMatchObject({ state: "done", done: made.length, skipped: 0 });
    await second.stop();
    expect(await checkLedger("ines")).toMatchObject({ sound: true });
  }
});

/**
 * Kills the connection that has the lock of changes, in the middle of what it does: all others end with it. No other
 * connection of this process is open meanwhile.
 */
async function killWriter(): Promise<void> {
  await closeDatabase();
  const own = postgres(site.databaseUrl, { max: 1, onnotice: () => {} });
  for (let i = 0; i < 1_000; i++) {
    const [writer] = await own`select a.pid from pg_locks l join pg_stat_activity a using (pid)
      where l.locktype = 'advisory' and l.granted and a.xact_start is not null and a.pid <> pg_backend_pid()`;
    if (!writer) continue;
    const before = await own`select pg_backend_pid() as pid`;
    process.kill(writer.pid, "SIGKILL");
    // The database has noticed when this connection is another one: until then it answers as though nothing had happened.
    for (let wait = 0; wait < 2_000; wait++) {
      const [now] = await own`select pg_backend_pid() as pid`.catch(() => [null]);
      if (now?.pid !== before[0]?.pid) break;
      await pause(5);
    }
    await own.end({ timeout: 1 }).catch(() => {});
    // Until the database has recovered by itself.
    for (let again = 0; again < 100; again++) if (await answers(site.databaseUrl)) return;
  }
  throw new Error("nobody wrote anything, or the database did not come back");
}

it("comes through a kill -9 of the database in the middle of a batch: the same server goes on, or the job says where it stopped", async () => {
  // Databases of tests answer before what was committed is safe: of connections from now on it is asked.
  await database().execute(sql`alter database tesoro set synchronous_commit = on`);
  const made = await startMany("Eel list");
  for (const act of ["bin", "erase"] as const) {
    const id = await order(act, made);
    const server = await start();
    for (let i = 0; i < 2_000 && (await readJob("ines", id)).done === 0; i++) await pause(5);
    await killWriter();
    const view = await expectWhole(act, id, made);
    if (view.state === "stopped") {
      expect(view).toMatchObject({ mayGoOn: true, problem: expect.stringContaining("go on") });
      await goOnWithJob("ines", id);
    }
    for (let i = 0; i < 800 && (await readJob("ines", id)).state !== "done"; i++) await pause(100);
    expect(await readJob("ines", id)).toMatchObject({ state: "done", done: made.length, skipped: 0 });
    expect(await checkLedger("ines")).toMatchObject({ sound: true });
    expect((await fetch(`${server.address}/sign-in`)).status).toBe(200);
    await server.stop();
  }
});
