/** A database made by the version before: its ledger is verified, brought over, and holds together; a broken one is not. */
import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import postgres from "postgres";
import { afterAll, expect, it } from "vitest";
import { openTestDatabase, type TestDatabase } from "../../../cli/testing/databases.ts";
import { inSnapshot } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { migrateDatabase } from "../db/migrate.ts";
import { schedulesOf } from "../services/writing/scheduling.ts";
import { verifyLedger } from "./chain.ts";

const DUMP = readFileSync(fileURLToPath(new URL("../../../test/dumps/before-words.sql", import.meta.url)), "utf8");

const opened: TestDatabase[] = [];
afterAll(async () => {
  for (const it of opened) await it.close();
});

/** A database of its own from the dump, after `spoil`; the address of it. */
async function restored(spoil = ""): Promise<string> {
  const database = await openTestDatabase("bare");
  opened.push(database);
  const { url } = database;
  const sql = postgres(url, { max: 1, onnotice: () => {} });
  await sql.unsafe(DUMP);
  if (spoil) await sql.unsafe(`set search_path = public; ${spoil}`);
  await sql.end();
  return url;
}

async function within<T>(url: string, work: (sql: postgres.Sql) => Promise<T>): Promise<T> {
  const sql = postgres(url, { max: 1, onnotice: () => {} });
  try {
    return await work(sql);
  } finally {
    await sql.end();
  }
}

it("is brought over with every entry, its words beside, and an entry that says so; a second start finds nothing to do", async () => {
  const url = await restored();
  const before = await within(url, (sql) => sql`select seq, at, act, maker from ledger order by seq`);
  await migrateDatabase(url);
  await migrateDatabase(url);
  const after = await within(url, (sql) => sql`select seq, at, act, maker from ledger order by seq`);
  expect(after.slice(0, before.length)).toEqual(before);
  expect(after.slice(before.length)).toMatchObject([{ act: "bringOver" }]);
  const kept = await within(url, (sql) => sql`select edits::text || detail::text || words::text as all from ledger`);
  const words = await within(url, (sql) => sql<{ text: string }[]>`select text from ledger_words`);
  for (const said of ["Ben Before", "Ben Married", "The crew", "We promised the neighbours.", "Not yet.", "Noon, as agreed."]) {
    expect(words.map(({ text }) => text)).toContain(said);
    expect(kept.map((row) => row.all).join()).not.toContain(said);
  }
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [], entries: before.length + 1 });
  const document = await inSnapshot((tx) => loadDocument(tx));
  expect(document.people.map(({ name, status }) => `${name} ${status}`)).toEqual(["Ada Keeper active", "Ben Married suspended"]);
  const scheduled = document.places.find(({ state }) => state === "scheduled")?.id ?? "";
  expect((await inSnapshot((tx) => schedulesOf(tx, scheduled))).live).toMatchObject({ version: "0.1", problem: null });
});

it("is left as it is where its chain is broken, with every break named, unless somebody says to go on", async () => {
  const url = await restored("update ledger set note = 'Rewritten.' where seq = 4; update ledger set act = 'save' where seq = 7");
  await expect(migrateDatabase(url)).rejects.toThrow("entry 4, 7");
  expect(await within(url, (sql) => sql`select to_regclass('public.ledger_before')::text as table`)).toEqual([{ table: "ledger_before" }]);
  process.env.TESORO_ACCEPT_BROKEN_LEDGER = "yes";
  await migrateDatabase(url);
  delete process.env.TESORO_ACCEPT_BROKEN_LEDGER;
  const [last] = await within(url, (sql) => sql`select act, detail from ledger order by seq desc limit 1`);
  expect(last).toMatchObject({ act: "bringOver", detail: { broken: "4 7" } });
});
