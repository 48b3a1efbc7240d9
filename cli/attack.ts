/** `npm run attack [-- --minutes 60] [--seed 1 [--path 12:0]]`: attacks a demo of its own for so long, and tells what gave way. */
// First: the stages are kept demos, made for one instant.
import "./testing/beforeFile.ts";
import { readFileSync } from "node:fs";
import { parseArgs } from "node:util";
import { attackBySequences, type Found, Stages } from "../test/attack/attack.ts";
import { tally } from "../test/attack/sequences.ts";
import { openTestCluster } from "./testing/cluster.ts";

const { values } = parseArgs({
  options: { minutes: { type: "string", default: "2" }, seed: { type: "string" }, path: { type: "string" } },
});
const end = performance.now() + Number(values.minutes) * 60_000;
let seed = values.seed === undefined ? Date.now() % 1_000_000_000 : Number(values.seed);

const cluster = await openTestCluster();
process.env.TESORO_TEST_CLUSTER = cluster.admin;
const longest = new Map<string, number>();
let memory = 0;
const stages = new Stages(({ waits }) => {
  waits.watch();
});

function tell({ wrong, sequence, seed: drawn, path }: Found): void {
  console.log(`\nGave way: ${wrong}\n${JSON.stringify(sequence, null, 1)}`);
  console.log(`Try it again:  npm run attack -- --seed ${drawn} --path ${path}\n`);
}

/** Leaves the stage, and keeps how long others waited on it. */
async function leave(): Promise<void> {
  const { waits, site } = await stages.now();
  for (const [name, wait] of waits.longest) longest.set(name, Math.max(longest.get(name) ?? 0, wait));
  memory = Math.max(memory, Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${site.pid}/status`, "utf8"))?.[1] ?? 0) / 1024);
  await stages.leave();
}

const found: Found[] = [];
do {
  console.log(`Sequences of seed ${seed} …`);
  const one = await attackBySequences(stages, { seed, milliseconds: end - performance.now(), path: values.path });
  if (one) {
    found.push(one);
    tell(one);
  }
  await leave();
  seed++;
} while (performance.now() < end && values.path === undefined);
await cluster.close();

console.log("\nHow long another reader waited at most, in milliseconds:");
for (const [name, wait] of [...longest].sort(([, a], [, b]) => b - a)) console.log(`${wait.toFixed(0).padStart(7)}  ${name}`);
console.log(`\nThe server's memory at most: ${memory.toFixed(0)} MiB`);
console.log("\nDone and refused, by act:");
for (const [name, { done, refused }] of [...tally].sort())
  console.log(`${String(done).padStart(7)} ${String(refused).padStart(6)}  ${name}`);
console.log(`\n${found.length === 0 ? "Nothing gave way." : `${found.length} gave way.`}`);
process.exit(found.length === 0 ? 0 : 1);
