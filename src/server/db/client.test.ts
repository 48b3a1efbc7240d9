/** The pool under a flood of questions; and work that one process at a time does: the lock goes with whoever has it, however that ends. */
import { sql } from "drizzle-orm";
import postgres from "postgres";
import { expect, it } from "vitest";
import { onDatabase } from "../../../test/database.ts";
import { database, inChange, inSnapshot, withLock } from "./client.ts";

const scratch = onDatabase("schema");

/** Begins work under a lock that goes on until it is told to end. */
function begun(name: string): { started: Promise<void>; end(how?: Error): void; ended: Promise<unknown> } {
  let end: (how?: Error) => void = () => {};
  const going = new Promise<void>((done, failed) => {
    end = (how) => (how ? failed(how) : done());
  });
  let start: () => void = () => {};
  const started = new Promise<void>((done) => {
    start = done;
  });
  const ended = withLock(name, async () => {
    start();
    await going;
  }).catch((error) => error);
  return { started, end, ended };
}

const takes = async (name: string): Promise<boolean> => {
  let took = false;
  await withLock(name, async () => {
    took = true;
  });
  return took;
};

it("whoever comes second leaves it, of other work one knows nothing, and it is free again when it ended or broke", async () => {
  const first = begun("a job");
  await first.started;
  expect([await takes("a job"), await takes("another job")]).toEqual([false, true]);
  first.end();
  await first.ended;
  expect(await takes("a job")).toBe(true);
  const broken = begun("a job");
  await broken.started;
  broken.end(new Error("it broke"));
  expect(await broken.ended).toMatchObject({ message: "it broke" });
  expect(await takes("a job")).toBe(true);
});

it("where its connection is cut, the work ends as it would, and nobody waits for a lock that none has", async () => {
  const cut = begun("a job");
  await cut.started;
  const own = postgres(scratch.url, { max: 1, onnotice: () => {} });
  // Those of this database: other files have theirs in the same cluster at the same time.
  await own`select pg_terminate_backend(pid) from pg_locks join pg_database on pg_database.oid = database
    where locktype = 'advisory' and granted and datname = current_database()`;
  await own.end();
  expect(await takes("a job")).toBe(true);
  cut.end();
  expect(await cut.ended).toBeUndefined();
  expect(await takes("a job")).toBe(true);
});

it("however many questions wait, each transaction has its connection for itself, and none is left open", async () => {
  await database().execute(sql`create table flood (n int)`);
  const tick = () => new Promise((done) => setTimeout(done, 20));
  let written = 0;
  // So many single statements wait when transactions begin: below, at and above what the driver sends ahead on a connection.
  for (const ahead of [3, 98, 99, 100, 101, 250]) {
    const held = Array.from({ length: 9 }, () => inSnapshot((tx) => tx.execute(sql`select pg_sleep(0.4)`)));
    await tick();
    const single = [sql`select pg_sleep(0.3)`, ...Array.from({ length: ahead }, () => sql.raw(`insert into flood values (${written++})`))];
    // Asked at once: a statement is sent when somebody waits for it.
    const asked = single.map(async (it) => database().execute(it));
    await tick();
    const reading = inSnapshot((tx) => tx.execute(sql`select count(*) from flood`));
    const writing = inChange((tx) => tx.execute(sql.raw(`insert into flood values (${written++})`)));
    const ends = await Promise.allSettled([...held, ...asked, reading, writing]);
    expect(ends.filter(({ status }) => status === "rejected")).toEqual([]);
  }
  const own = postgres(scratch.url, { max: 1, onnotice: () => {} });
  const open = await own`select pid from pg_stat_activity where datname = current_database() and state like 'idle in transaction%'`;
  const [rows] = await own`select count(*)::int as count from flood`;
  await own.end();
  expect([open.length, rows?.count]).toEqual([0, written]);
});
