/** `npm run attack [-- --minutes 60] [--seed 1 [--path 12:0]]`: attacks a demo of its own for so long, and tells what gave way. */
// First: the stages are kept demos, made for one instant.
import "./testing/beforeFile.ts";
import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import fc from "fast-check";
import { inSnapshot } from "../src/server/db/client.ts";
import { verifyLedger } from "../src/server/ledger/chain.ts";
import { afterEachLoss, attackByEach, attackBySequences, type Found, Stages, toldOf } from "../test/attack/attack.ts";
import { attackByCost } from "../test/attack/cost.ts";
import { KNOWN } from "../test/attack/known.ts";
import { writesAfterLoss } from "../test/attack/lost.ts";
import { nonsense, sendNonsense } from "../test/attack/nonsense.ts";
import { tally } from "../test/attack/sequences.ts";
import { openTestCluster } from "./testing/cluster.ts";

const { values } = parseArgs({
  options: { minutes: { type: "string", default: "2" }, seed: { type: "string" }, path: { type: "string" } },
});
/** As much nonsense on each stage. */
const NONSENSE = 600;
const minutes = Number(values.minutes);
if (!(minutes > 0)) throw new Error(`--minutes is for how long it attacks, as in --minutes 60; not "${values.minutes}".`);
const end = performance.now() + minutes * 60_000;
const left = (): number => Math.max(0, end - performance.now());
let seed = values.seed === undefined ? Date.now() % 1_000_000_000 : Number(values.seed);
if (!Number.isInteger(seed)) throw new Error(`--seed is a whole number, as a run printed it; not "${values.seed}".`);

const cluster = await openTestCluster();
process.env.TESORO_TEST_CLUSTER = cluster.admin;
const longest = new Map<string, number>();
let memory = 0;
let gaveWay = 0;
const stages = new Stages((stage) => stage.waits.watch());

function tell(found: Found | null): void {
  if (!found) return;
  gaveWay++;
  console.log(`\nGave way: ${toldOf(found)}\n`);
}

function tellAll(wrong: readonly string[]): void {
  gaveWay += wrong.length;
  for (const it of wrong) console.log(`\nGave way: ${it}`);
}

/** Leaves the stage, and keeps how long others waited on it. */
async function leave(): Promise<void> {
  const { waits, site } = await stages.now();
  for (const [name, wait] of waits.longest) longest.set(name, Math.max(longest.get(name) ?? 0, wait));
  memory = Math.max(memory, Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${site.pid}/status`, "utf8"))?.[1] ?? 0) / 1024);
  await stages.leave();
}

/** A while of sequences, then a while of nonsense, on one stage. */
async function attackOnce(): Promise<void> {
  console.log(`Sequences and nonsense of seed ${seed} …`);
  await stages.now();
  tell(await attackBySequences(stages, { seed, milliseconds: left(), path: values.path }));
  if (values.path !== undefined) return;
  const requests = fc.sample(nonsense, { seed, numRuns: NONSENSE });
  for (const it of requests) {
    if (left() === 0) break;
    const status = await sendNonsense(await stages.now(), it);
    if (status >= 500) tellAll([`${it.who}: ${it.contract.method} ${it.contract.path} is answered ${status}: ${JSON.stringify(it)}`]);
  }
  const { breaks } = await inSnapshot(verifyLedger);
  if (breaks.length > 0) tellAll([`The ledger's chain breaks: ${JSON.stringify(breaks)}`]);
}

if (values.path === undefined) {
  console.log("The costliest bodies …");
  tellAll(await attackByCost(await stages.now()));
  console.log("Every write, after each right to it was lost …");
  tellAll(await writesAfterLoss(await stages.now()));
  console.log("Ways that are known …");
  tell(await attackByEach(stages, KNOWN));
  console.log("Every act, its right lost between looking and doing …");
  // Of all that there are, as many as a third of the time lets by.
  const until = performance.now() + left() / 3;
  tell(await attackByEach(stages, afterEachLoss(seed), () => performance.now() < until));
  await leave();
}
do {
  await attackOnce();
  await leave();
  seed++;
} while (left() > 0 && values.path === undefined);
await cluster.close();

console.log("\nHow long another reader waited at most, in milliseconds:");
for (const [name, wait] of [...longest].sort(([, a], [, b]) => b - a)) console.log(`${wait.toFixed(0).padStart(7)}  ${name}`);
console.log(`\nThe server's memory at most: ${memory.toFixed(0)} MiB`);
console.log("\nDone and refused, by act:");
for (const [name, { done, refused, why }] of [...tally].sort())
  console.log(`${String(done).padStart(7)} ${String(refused).padStart(6)}  ${name}${done === 0 ? `, the last time: ${why}` : ""}`);
console.log(`\n${gaveWay === 0 ? "Nothing gave way." : `${gaveWay} gave way.`}`);
process.exit(gaveWay === 0 ? 0 : 1);
