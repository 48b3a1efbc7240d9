/** Measures the access core alone, on the large set or a smaller one of the same proportions. */

import { decide, type MatrixTotals, matrixTotals } from "../src/core/access/decide/index.ts";
import { type AccessIndex, compile } from "../src/core/access/index/index.ts";
import {
  type AccessDocument,
  abilitiesIn,
  type Edit,
  instantOf,
  type PlaceNumber,
  type SubjectNumber,
  setOfLevel,
} from "../src/core/access/model/index.ts";
import { ripple } from "../src/core/access/ripple/index.ts";
import { update } from "../src/core/access/update/index.ts";
import { Dice } from "../src/demo/large/dice.ts";
import { best, memory, now, quantile, timed } from "./measuring.ts";

export const AT = instantOf("2026-11-23T12:00:00Z");

export interface CoreFigures {
  places: number;
  people: number;
  compileMs: number;
  indexMb: number;
  matrixMs: number;
  matrixAgainMs: number;
  totals: MatrixTotals;
  decisionNs: number;
  bareNs: number;
  updateMs: { median: number; p95: number };
  rippleMs: { median: number; p95: number };
  siteRippleMs: { median: number; p95: number };
}

const LOOPS = 2_000_000;

/** Everybody everywhere at random, as numbers: what the tables are asked in the loop that is timed. */
function randomPairs(subjects: number, places: number) {
  const dice = new Dice(5);
  const who = Int32Array.from({ length: LOOPS }, () => Math.floor(dice.next() * subjects));
  const where = Int32Array.from({ length: LOOPS }, () => Math.floor(dice.next() * places));
  return { who, where };
}

function decisionNs(index: AccessIndex): number {
  const { who, where } = randomPairs(index.subjects.length, index.places.length);
  let sum = 0;
  const ms = best(5, () => {
    for (let i = 0; i < LOOPS; i++) sum += decide(index, who[i] as SubjectNumber, where[i] as PlaceNumber, AT);
  });
  if (sum < 0) throw new Error("no cell is negative");
  return (ms * 1e6) / LOOPS;
}

/** As many bytes as a matrix written out may take here; of the large set it holds one place in eight. */
const BARE_BYTES = 256 * 2 ** 20;

/** The matrix written out, subject by place, for as many places as fit: reading one cell of it is the bare look-up. */
function bareNs(index: AccessIndex): number {
  const subjects = index.subjects.length;
  const places = Math.min(index.places.length, Math.floor(BARE_BYTES / 2 / subjects));
  const cells = new Uint16Array(subjects * places);
  for (let i = 0; i < cells.length; i += 7) cells[i] = i & 511;
  const { who, where } = randomPairs(subjects, places);
  let sum = 0;
  const ms = best(5, () => {
    for (let i = 0; i < LOOPS; i++) sum += cells[(where[i] as number) * subjects + (who[i] as number)] as number;
  });
  if (sum < 0) throw new Error("no cell is negative");
  return (ms * 1e6) / LOOPS;
}

/** Rule changes as keepers make them: a grant, a fence or a stance, at spaces and at pages. */
function ruleChange(index: AccessIndex, dice: Dice, atSpace: boolean): Edit[] {
  const { groups, places } = index.document;
  const spaces = index.blocks.flatMap(({ space }) => (space >= 0 ? [space] : []));
  const place = places[atSpace ? dice.pick(spaces) : Math.floor(dice.next() * places.length)];
  if (!place) return [];
  const to = { group: dice.pick(groups).id };
  if (dice.chance(0.6)) {
    const abilities = abilitiesIn(setOfLevel(dice.pick([1, 2, 3, 4] as const)));
    return [{ kind: "grant", place: place.id, put: { to, abilities, until: "2031-01-01T00:00:00.000Z" } }];
  }
  if (dice.chance(0.7) || place.kind === "site")
    return [{ kind: "fence", place: place.id, put: { kind: dice.chance(0.5) ? "read" : "write", admits: [to] } }];
  return [{ kind: "stance", place: place.id, from: place.stance, to: place.stance === "fresh" ? "follow" : "fresh" }];
}

function changes(index: AccessIndex, count: number) {
  const dice = new Dice(23);
  const updates: number[] = [];
  const ripples: number[] = [];
  let before = index;
  for (let i = 0; i < count; i++) {
    const edits = ruleChange(before, dice, i % 3 === 0);
    const start = now();
    const updated = update(before, edits);
    const made = now();
    if (!updated.ok) continue;
    ripple(before, updated.index, AT);
    ripples.push(now() - made);
    updates.push(made - start);
    // Half of what is tried is applied, so that the index measured is one that lived.
    if (i % 2 === 0) before = updated.index;
  }
  return { updates, ripples };
}

/** Changes of rules on the site itself, and of who is in a group: they may reach everywhere. */
function siteWide(index: AccessIndex): number[] {
  const { groups, people } = index.document;
  const edits: Edit[] = [1, 2, 3, 4].flatMap((i): Edit[] => [
    { kind: "grant", place: "site", put: { to: { group: groups[i]?.id ?? "" }, abilities: ["read"] } },
    { kind: "member", group: groups.at(-i)?.id ?? "", put: { person: people.at(-i)?.id ?? "" } },
  ]);
  return edits.flatMap((edit) => {
    const updated = update(index, [edit]);
    return updated.ok ? [timed(() => ripple(index, updated.index, AT)).ms] : [];
  });
}

const spread = (list: readonly number[]) => ({ median: quantile(list, 0.5), p95: quantile(list, 0.95) });

export function measureCore(document: AccessDocument): { index: AccessIndex; figures: CoreFigures } {
  const empty = memory();
  let index = compile(document);
  const compileMs = best(3, () => {
    index = compile(document);
  });
  const matrix = timed(() => matrixTotals(index, AT));
  const matrixAgainMs = best(3, () => matrixTotals(index, AT));
  const decision = decisionNs(index);
  const indexMb = (memory() - empty) / 1e6;
  changes(index, 40);
  const { updates, ripples } = changes(index, 300);
  return {
    index,
    figures: {
      places: document.places.length,
      people: document.people.length,
      compileMs,
      indexMb,
      matrixMs: matrix.ms,
      matrixAgainMs,
      totals: matrix.result,
      decisionNs: decision,
      bareNs: bareNs(index),
      updateMs: spread(updates),
      rippleMs: spread(ripples),
      siteRippleMs: spread(siteWide(index)),
    },
  };
}
