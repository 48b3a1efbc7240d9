/** A cluster of our own: killed hard, started again, nothing lost; and a start that is cut short leaves nothing half-filled. */
import { chmodSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import postgres from "postgres";
import { afterAll, expect, it } from "vitest";
import { startCluster } from "./postgres.ts";

const folder = mkdtempSync(join(tmpdir(), "tesoro-cluster-"));
chmodSync(folder, 0o755);
const cluster = join(folder, "pg");
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function query(url: string, text: string) {
  const sql = postgres(url, { max: 1, onnotice: () => {} });
  try {
    return await sql.unsafe(text);
  } finally {
    await sql.end();
  }
}

it("comes back after kill -9 with everything committed, over a stale lock, and adopts a server that still runs", async () => {
  const first = await startCluster(cluster);
  await query(first.url, "create table kept as select 42 as answer");
  const adopted = await startCluster(cluster);
  expect(adopted.url).toBe(first.url);
  const lock = join(cluster, "postmaster.pid");
  process.kill(Number(readFileSync(lock, "utf8").split("\n")[0]), "SIGKILL");
  await new Promise((later) => setTimeout(later, 300));

  const second = await startCluster(cluster);
  expect(await query(second.url, "select answer from kept")).toEqual([{ answer: 42 }]);
  expect(new URL(second.url).hostname).toBe("127.0.0.1");
  await second.stop();

  // A lock whose number now belongs to a process that is no database.
  writeFileSync(lock, `${process.pid}\n${cluster}\n0\n1\n`);
  const third = await startCluster(cluster);
  expect(await query(third.url, "select answer from kept")).toEqual([{ answer: 42 }]);

  await expect(
    third.fillAside(async (url) => {
      await query(url, "create table half_filled ()");
      throw new Error("cut short");
    }),
  ).rejects.toThrow("cut short");
  expect(await query(third.url, "select to_regclass('half_filled') as there")).toEqual([{ there: null }]);
  await third.fillAside(async (url) => void (await query(url, "create table whole ()")));
  expect(await query(third.url, "select to_regclass('whole')::text as there")).toEqual([{ there: "whole" }]);
  await third.stop();
});
