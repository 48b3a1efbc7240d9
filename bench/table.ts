/** The figures as a table for a terminal, with the targets of the design beside them. */
import { LEVELS } from "../src/core/access/model/index.ts";
import type { LifeFigures } from "./life.ts";
import type { Report } from "./run.ts";

type Line = [what: string, figure: string, target: string, verdict: string];

const ms = (value: number): string => `${value < 10 ? value.toFixed(2) : value.toFixed(0)} ms`;
const many = (value: number): string => Math.round(value).toLocaleString("en");

/** Whether a figure meets its target, or by how much it misses it. */
const verdict = (value: number, limit: number): string =>
  value <= limit ? "met" : `missed by ${((value / limit - 1) * 100).toFixed(0)} %`;

function rows(lines: readonly (readonly string[])[]): string {
  const widths = (lines[0] ?? []).map((_, column) => Math.max(...lines.map((line) => line[column]?.length ?? 0)));
  return lines
    .map((line) =>
      line
        .map((cell, column) => cell.padEnd(widths[column] ?? 0))
        .join("  ")
        .trimEnd(),
    )
    .join("\n");
}

function coreLines({ large, peers }: Report): Line[] {
  const own = peers[0]?.perSecond ?? 0;
  const fastest = Math.max(...peers.slice(1).map(({ perSecond }) => perSecond));
  const withTarget = (what: string, value: number, limit: number): Line => [what, ms(value), `under ${limit} ms`, verdict(value, limit)];
  return [
    withTarget("compile", large.compileMs, 1500),
    [
      "one decision beside the fastest peer",
      `${many(own)} against ${many(fastest)} a second: ${(own / fastest).toFixed(0)} times`,
      "50 times",
      own / fastest >= 50 ? "met" : "missed",
    ],
    [
      "one decision beside a bare look-up",
      `${large.decisionNs.toFixed(0)} ns against ${large.bareNs.toFixed(0)} ns: ${(large.decisionNs / large.bareNs).toFixed(1)} times`,
      "within 4 times",
      verdict(large.decisionNs / large.bareNs, 4),
    ],
    withTarget("whole matrix, from nothing", large.matrixMs, 1000),
    ["whole matrix, rows known", ms(large.matrixAgainMs), "", ""],
    withTarget("ripple of a rule change at a space or below, p95", large.rippleMs.p95, 30),
    ["  the same, median", ms(large.rippleMs.median), "", ""],
    ["ripple of a site-wide change, p95", ms(large.siteRippleMs.p95), "reported", ""],
    withTarget("taking in one change, p95", large.updateMs.p95, 5),
    ["  the same, median", ms(large.updateMs.median), "", ""],
    ["index", `${large.indexMb.toFixed(0)} MB`, "under 250 MB", verdict(large.indexMb, 250)],
  ];
}

const versionLines = ({ versions: { kilobytes, changedMs, differentMs } }: Report): Line[] => [
  [`two versions of ${kilobytes} kB compared, changed here and there`, ms(changedMs), "under 100 ms", verdict(changedMs, 100)],
  ["  the same, wholly different", ms(differentMs), "under 2 s", verdict(differentMs, 2_000)],
];

function lifeLines({ pagesKeeper, pagesThree, branch, impactMs, archived, archivePerSecond, ...people }: LifeFigures): Line[] {
  return [
    [
      `the table of pages, 100 rows, by its worst column (${pagesKeeper.sort}), site keeper, p95`,
      ms(pagesKeeper.p95),
      "under 50 ms",
      verdict(pagesKeeper.p95, 50),
    ],
    [`  the same (${pagesThree.sort}), keeper of three spaces, p95`, ms(pagesThree.p95), "under 50 ms", verdict(pagesThree.p95, 50)],
    [`impact of binning a branch of ${many(branch)}`, ms(impactMs), "under 300 ms", verdict(impactMs, 300)],
    [
      `archiving ${many(archived)} pages in bulk`,
      `${archivePerSecond.toFixed(0)} a second`,
      "at least 300",
      archivePerSecond >= 300 ? "met" : "missed",
    ],
    ["the table of people, 100 rows with what each can do, p95", ms(people.peopleP95), "under 50 ms", verdict(people.peopleP95, 50)],
    ["everything public with rule and since, 100 rows, p95", ms(people.outsideP95), "under 100 ms", verdict(people.outsideP95, 100)],
    ["two viewpoints compared", ms(people.compareMs), "under 300 ms", verdict(people.compareMs, 300)],
    ["guests with what they can read and do, 100 rows", ms(people.guestsMs), "reported", ""],
    ["forecast of 30 days", ms(people.forecastMs), "under 1 s", verdict(people.forecastMs, 1_000)],
    [
      `${many(people.looked)} live pages looked through for findings`,
      `${many(Math.round(people.findingsPerSecond))} a second`,
      "at least 2,000",
      people.findingsPerSecond >= 2_000 ? "met" : "missed",
    ],
    ["register of places with rules, by whom they let in, 100 rows", ms(people.registerMs), "reported", ""],
    ["the grid as of the first day: rules read anew, and then again", `${ms(people.asOfFirstMs)}, ${ms(people.asOfMs)}`, "reported", ""],
    [
      `queue of ${many(people.review.due)} pages, first 50, site keeper, p95`,
      ms(people.review.queueP95),
      "under 50 ms",
      verdict(people.review.queueP95, 50),
    ],
    ["  the same, keeper of three spaces", ms(people.review.queueThreeP95), "under 50 ms", verdict(people.review.queueThreeP95, 50)],
    ["  the same right after one was settled, site keeper", ms(people.review.queueAfterP95), "reported", ""],
    [
      `desk of a site keeper, ${many(people.desk.waiting)} things waiting, p95`,
      ms(people.desk.deskP95),
      "under 200 ms",
      verdict(people.desk.deskP95, 200),
    ],
    ["  the same, keeper of three spaces", ms(people.desk.deskThreeP95), "reported", ""],
    [
      `what a routine would touch, of ${many(people.desk.routineFits)} that fit, slowest filter, p95`,
      ms(people.desk.routineWorst),
      "under 1 s",
      verdict(people.desk.routineWorst, 1_000),
    ],
    [`a table of ${many(people.brought)} people brought in`, ms(people.bringMs), "under 20 s", verdict(people.bringMs, 20_000)],
  ];
}

function serverLines({ server }: Report): Line[] {
  if (!server) return [];
  const line = (what: string, value: number): Line => [what, ms(value), "under 30 ms", verdict(value, 30)];
  return [
    line("reader page, p95", server.readerP95),
    line(`grid page of some ${server.gridRows} rows, p95`, server.gridP95),
    ["a search, 20 results with snippets, one at a time, for a keeper, p95", ms(server.searchKeeperP95), "as for a guest", ""],
    ["  the same for a guest, p95", ms(server.searchGuestP95), "as for a keeper", ""],
    ...lifeLines(server.life),
    ["errors among all requests", `${server.errors} of ${server.requests}`, "0", verdict(server.errors, 0)],
  ];
}

export function printTables(report: Report): void {
  const { large, growth, peers, peerWorld, server } = report;
  const { levels, custom, pairs, oversight } = large.totals;
  console.log(`\nThe large set: ${many(large.places)} places, ${many(large.people)} people\n`);
  console.log(rows([["what", "figure", "target", ""], ...coreLines(report), ...versionLines(report), ...serverLines(report)]));
  console.log(
    `\nThe whole matrix, ${many(pairs)} pairs: ${LEVELS.map((name, i) => `${name} ${many(levels[i] ?? 0)}`).join(", ")}, custom mix ${many(custom)}; with oversight ${many(oversight)}.`,
  );
  const { places, people, grants, fences, space } = peerWorld;
  console.log(`\nThe same questions (space ${space}: ${places} places, ${many(people)} members, ${grants} grants, ${fences} fences)\n`);
  console.log(
    rows([
      ["library", "decisions a second", "answers agree", "how it was set up"],
      ...peers.map((peer) => [peer.name, many(peer.perSecond), `${peer.agrees} of ${peer.asked}`, peer.notes]),
    ]),
  );
  console.log(
    "\nThe libraries hold one space, live pages and members only: states, ends, ceilings, own drafts and passes are left out for them.",
  );
  console.log("The bare look-up reads one cell of a matrix written out in one typed array, as many places as fit 256 MB.");
  console.log("\nGrowth\n");
  console.log(
    rows([
      ["places", "people", "compile", "matrix", "decision", "change", "ripple p95", "index"],
      ...growth.map((it) => [
        many(it.places),
        many(it.people),
        ms(it.compileMs),
        ms(it.matrixMs),
        `${it.decisionNs.toFixed(0)} ns`,
        ms(it.updateMs.median),
        ms(it.rippleMs.p95),
        `${it.indexMb.toFixed(1)} MB`,
      ]),
    ]),
  );
  console.log("\nWhere a target is missed: taking in a change copies two lists of all places, and the copies are collected now and then;");
  console.log("a page of the served large set takes a dozen round trips to a database that shares two cores with server and clients.");
  if (server)
    console.log(
      `\nServer: ${server.clients} clients, ${server.rate} requests a second together, ${many(server.requests)} requests in all.`,
    );
}
