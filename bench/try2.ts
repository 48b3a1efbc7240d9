import { largeDocument } from "../src/demo/large/document.ts";
import { compile } from "../src/core/access/compile.ts";
import { matrixTotals } from "../src/core/access/matrix.ts";
import { ripple } from "../src/core/access/ripple.ts";
import { update } from "../src/core/access/update.ts";
const at = Date.parse("2026-11-23T12:00:00Z");
let index = compile(largeDocument());
matrixTotals(index, at);
{const u = update(index, [{ kind: "grant", place: "s0", put: { to: { group: `g1` }, abilities: ["read", "discuss"], until: "2029-01-01T00:00:00.000Z" } }]); if (!u.ok) throw 1; ripple(index, u.index, at);}
const ups: number[]=[], rs: number[]=[];
for (let i = 0; i < 60; i++) { const s=performance.now(); const u = update(index, [{ kind: "grant", place: "s0", put: { to: { group: `g${i}` }, abilities: ["read", "discuss"], until: "2029-01-01T00:00:00.000Z" } }]); if (!u.ok) throw 1; const m=performance.now(); ripple(index, u.index, at); ups.push(m-s); rs.push(performance.now()-m); }
const p = (l: number[], q: number) => l.sort((a, b) => a - b)[Math.floor(l.length * q)]!.toFixed(2);
console.log(p(ups,.5),p(ups,.95),p(rs,.5),p(rs,.95));
