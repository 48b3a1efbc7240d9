/** `npm run bench`: one table of figures, Tesoro's core beside general authorization libraries on the same world. `--json` for machines. */
import { parseArgs } from "node:util";
import { decide } from "../src/core/access/decide/index.ts";
import { largeDocument, sized } from "../src/demo/large/document.ts";
import { AT, type CoreFigures, measureCore } from "./core.ts";
import { rate } from "./measuring.ts";
import { prepareCasbin } from "./peers/casbin.ts";
import { prepareCasl } from "./peers/casl.ts";
import { prepareCedar } from "./peers/cedar.ts";
import { peerWorld, questionsFor } from "./questions.ts";
import type { ServerFigures } from "./server.ts";
import { printTables } from "./table.ts";
import { measureVersions, type VersionFigures } from "./versions.ts";

export interface PeerFigures {
  name: string;
  perSecond: number;
  /** Of the questions asked for checking, how many are answered as Tesoro answers them. */
  agrees: number;
  asked: number;
  notes: string;
}

export interface Report {
  large: CoreFigures;
  growth: CoreFigures[];
  peers: PeerFigures[];
  peerWorld: { space: string; places: number; people: number; grants: number; fences: number };
  versions: VersionFigures;
  server: ServerFigures | null;
}

const CHECKED = 400;

async function measurePeers(index: ReturnType<typeof measureCore>["index"]): Promise<Pick<Report, "peers" | "peerWorld">> {
  const world = peerWorld(index, AT, 400);
  const questions = questionsFor(index, world, 20_000);
  const expected = questions.map((it) => (decide(index, it.subjectAt, it.placeAt, AT) & it.bit) !== 0);
  const peers = [prepareCasl(world), await prepareCasbin(world), prepareCedar(world)];
  const measured = peers.map(({ name, notes, decide: ask }): PeerFigures => {
    const agrees = questions.slice(0, CHECKED).filter((it, i) => ask(it) === expected[i]).length;
    const perSecond = rate(questions, ask, 2_000);
    return { name, perSecond, agrees, asked: CHECKED, notes };
  });
  const own = rate(questions, (it) => (decide(index, it.subjectAt, it.placeAt, AT) & it.bit) !== 0, 2_000);
  const notes = "the whole large set in one index, asked the same questions";
  const sizes = { places: world.places.length, people: world.principals.size, grants: world.grants.length, fences: world.fences.length };
  return {
    peers: [{ name: "Tesoro", perSecond: own, agrees: CHECKED, asked: CHECKED, notes }, ...measured],
    peerWorld: { space: world.space, ...sizes },
  };
}

const { values } = parseArgs({ options: { json: { type: "boolean", default: false }, "no-server": { type: "boolean", default: false } } });
const progress = (text: string) => console.error(text);
progress("The large set: 100,000 places …");
const { index, figures } = measureCore(largeDocument());
progress("The same questions for the peers …");
const peers = await measurePeers(index);
progress("Growth …");
const growth = [1_000, 10_000].map((places) => measureCore(largeDocument(sized(places))).figures);
progress("Two versions of a page …");
const versions = measureVersions();
const server = values["no-server"] ? null : await (await import("./server.ts")).measureServer(progress);
const report: Report = { large: figures, growth: [...growth, figures], ...peers, versions, server };
if (values.json) console.log(JSON.stringify(report, null, 2));
else printTables(report);
process.exit(0);
