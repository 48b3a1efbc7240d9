import { largeDocument, sized } from "../src/demo/large/document.ts";
import { compile } from "../src/core/access/compile.ts";
import { matrixTotals } from "../src/core/access/matrix.ts";
import { ripple } from "../src/core/access/ripple.ts";
import { update } from "../src/core/access/update.ts";
import { decide } from "../src/core/access/decide.ts";
import { brokenPledges } from "../src/core/access/pledges.ts";
import { idleRules } from "../src/core/access/idle.ts";
import { checkDocument } from "../src/core/access/check.ts";
const at = Date.parse("2026-11-23T12:00:00Z");
const t = <T>(name: string, f: () => T): T => { const s = performance.now(); const r = f(); console.log(name, (performance.now() - s).toFixed(2), "ms"); return r; };
const mem = () => { (globalThis as any).gc?.(); const m = process.memoryUsage(); return ((m.heapUsed + m.arrayBuffers) / 1e6).toFixed(0) + " MB"; };
const doc = t("make", () => largeDocument(process.argv[2] ? sized(+process.argv[2]) : undefined));
console.log(mem(), "errors", checkDocument(doc).length, "ruled", doc.places.filter(p => p.grants.length + p.fences.length > 0).length);
for (let i = 0; i < 3; i++) t("compile", () => compile(doc));
let index = compile(doc);
console.log(mem());
console.log(t("totals", () => matrixTotals(index, at)));
t("totals again", () => matrixTotals(index, at));
console.log("blocks", index.blocks.length, "rows", index.blocks.reduce((s, b) => s + b.rows.length, 0), "classes max", Math.max(...index.blocks.map(b => b.tables!.kinds.length)), "cells", index.blocks.reduce((s, b) => s + b.rows.length * b.tables!.kinds.length, 0));
console.log(mem());
const n = 2_000_000; const qs = new Int32Array(n), qp = new Int32Array(n);
for (let i = 0; i < n; i++) { qs[i] = Math.random() * index.subjects.length; qp[i] = Math.random() * index.places.length; }
let sum = 0;
for (let r = 0; r < 3; r++) t("2M decisions", () => { for (let i = 0; i < n; i++) sum += decide(index, qs[i]!, qp[i]!, at); });
console.log(mem(), index.kept);
const bare = new Uint16Array(30_000_000); const where = new Int32Array(n); for (let i = 0; i < n; i++) where[i] = Math.random() * bare.length;
t("bare", () => { for (let i = 0; i < n; i++) sum += bare[where[i]!]!; });
t("pledges", () => brokenPledges(index, at));
console.log(t("idle", () => idleRules(index, at)).length);
t("ripple warm", () => { const u = update(index, [{ kind: "tags", place: "x1", from: doc.places.find(p=>p.id==="x1")!.tags, to: [] }]); if (u.ok) ripple(index, u.index, at); });
const times: number[] = [], ups: number[] = [];
for (let i = 0; i < 200; i++) {
  const place = i % 4 === 0 ? `s${(i * 7) % 250}` : `x${(i * 997) % 99000}`;
  const grp = `g${(i * 13) % 500}`;
  const s = performance.now();
  const u = update(index, [{ kind: "grant", place, put: { to: { group: grp }, abilities: ["read", "discuss", "revise", "add"], until: "2029-01-01T00:00:00.000Z" } }]);
  const m = performance.now();
  if (!u.ok) { console.log(u.conflicts); continue; }
  const r = ripple(index, u.index, at);
  times.push(performance.now() - m); ups.push(m - s);
  if (i % 2) index = u.index;
}
const p = (l: number[], q: number) => l.sort((a, b) => a - b)[Math.floor(l.length * q)]!.toFixed(2);
console.log("update p50/p95", p(ups, .5), p(ups, .95), "max", p(ups, .999), "ripple", p(times, .5), p(times, .95), p(times, .999));
const big: number[] = [];
for (let i = 0; i < 20; i++) { const u = update(index, [{ kind: "grant", place: "s0", put: { to: { group: `g${i}` }, abilities: ["read", "discuss"], until: "2029-01-01T00:00:00.000Z" } }]); if (!u.ok) throw 1; big.push(t("ripple s0", () => { ripple(index, u.index, at); return 1; })); }
const u = update(index, [{ kind: "grant", place: "site", put: { to: { group: "g3" }, abilities: ["read"] } }]);
if (u.ok) { const r = t("ripple site", () => ripple(index, u.index, at)); console.log(r.entries.length); }
const u2 = t("update member", () => update(index, [{ kind: "member", group: "g3", put: { person: "p77" } }]));
if (u2.ok) t("ripple member", () => ripple(index, u2.index, at));
const u3 = t("update person", () => update(index, [{ kind: "person", person: "pnew", put: { id: "pnew", kind: "member", status: "active" } }]));
if (u3.ok) t("ripple person", () => ripple(index, u3.index, at));
console.log(mem(), sum);
