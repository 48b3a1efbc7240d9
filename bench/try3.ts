import { largeDocument } from "../src/demo/large/document.ts";
import { compile } from "../src/core/access/compile.ts";
import { matrixTotals } from "../src/core/access/matrix.ts";
import { update } from "../src/core/access/update.ts";
const at = Date.parse("2026-11-23T12:00:00Z");
let index = compile(largeDocument());
matrixTotals(index, at);
const ups: number[]=[];
for (let i = 0; i < 1500; i++) { const place = i % 4 === 0 ? `s${(i * 7) % 250}` : `x${(i * 997) % 99000}`; const s=performance.now(); const u = update(index, [{ kind: "grant", place, put: { to: { group: `g${i%500}` }, abilities: ["read", "discuss"], until: "2029-01-01T00:00:00.000Z" } }]); if (!u.ok) throw 1; ups.push(performance.now()-s);}
const p = (l: number[], q: number) => l.sort((a, b) => a - b)[Math.floor(l.length * q)]!.toFixed(2);
console.log(p(ups,.5),p(ups,.95));
