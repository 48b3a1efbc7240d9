/** What the access command answers: one function for each of its commands. */

import { once } from "node:events";
import { createWriteStream } from "node:fs";
import papaparse from "papaparse";
import { decide, OVERSEES, SET_OF_CELL } from "../../src/core/access/decide/index.ts";
import {
  cellWords,
  documentNames,
  editSentence,
  explain,
  explanationText,
  idleRules,
  idleSentence,
  pledgeSentence,
} from "../../src/core/access/explain/index.ts";
import type { AccessIndex, CompiledPlace, CompiledSubject } from "../../src/core/access/index/index.ts";
import { ABILITIES, type Ability, abilitiesIn, describeSet, type Instant, wishedSet } from "../../src/core/access/model/index.ts";
import { propose } from "../../src/core/access/propose/index.ts";
import { brokenPledges, explainBreak, flat } from "../../src/core/access/ripple/index.ts";
import { QuestionError, readQuestion, readWishes, UsageError } from "./reading.ts";

const nameOf = (subject: CompiledSubject): string =>
  subject.person ? (subject.person.name ?? subject.person.id) : subject.pass ? `the pass ${subject.pass.id}` : "The public";

export function answerDecide(index: AccessIndex, line: string, at: Instant): unknown {
  const { subject, place } = readQuestion(index, line);
  const cell = decide(index, subject.number, place.number, at);
  return { abilities: abilitiesIn(cell & SET_OF_CELL), oversight: (cell & OVERSEES) !== 0 };
}

export function answerExplain(index: AccessIndex, line: string, at: Instant): unknown {
  const { subject, place, ability } = readQuestion(index, line);
  if (!ABILITIES.includes(ability as Ability)) throw new QuestionError(`ability must be one of ${ABILITIES.join(", ")}`);
  const it = explain(index, subject, ability as Ability, place, at);
  return { ...it, text: explanationText(it, nameOf(subject), documentNames(index)) };
}

export function answerPropose(index: AccessIndex, line: string, at: Instant): unknown {
  const names = documentNames(index);
  const { candidates, obstacle, ...rest } = propose(index, readWishes(index, line), at);
  return {
    ...rest,
    candidates: candidates.map(({ edits, unwishedGains, unwishedLosses, ripple }) => ({
      edits,
      sentences: edits.map((edit) => editSentence(edit, names)),
      unwishedGains,
      unwishedLosses,
      ripple: flat(ripple).entries,
    })),
    obstacle: obstacle && { ...obstacle, level: describeSet(wishedSet(obstacle.wish)) },
  };
}

export function answerPledges(index: AccessIndex, at: Instant): unknown {
  const names = documentNames(index);
  const broken = new Map(brokenPledges(index, at).map((it) => [it.pledge, it]));
  return index.document.pledges.map((pledge) => {
    const it = broken.get(pledge.id);
    const told = { pledge: pledge.id, text: pledgeSentence(pledge, names), holds: it === undefined };
    if (!it) return told;
    return { ...told, violations: it.count, witness: { subject: it.subject, place: it.place, explanation: explainBreak(index, it, at) } };
  });
}

export function answerIdle(index: AccessIndex, at: Instant): unknown {
  const names = documentNames(index);
  return idleRules(index, at).map((it) => ({ ...it, text: idleSentence(it, names) }));
}

const COLUMNS = ["who", "kind", "place", "path", "state", "level", "abilities", "oversight"];
const BATCH = 2000;

/** Every pair of a subject and a place where there is something, one line each, as CSV. */
export async function writeMatrix(index: AccessIndex, at: Instant, file: string | undefined): Promise<void> {
  if (file === undefined) throw new UsageError("--out FILE.csv is missing");
  const out = createWriteStream(file);
  await once(out, "open").catch((error: Error) => {
    throw new UsageError(`${file}: ${error.message}`);
  });
  const write = async (rows: unknown[][]) => {
    // A cell never starts a formula in the program that opens the file.
    if (!out.write(`${papaparse.unparse(rows, { escapeFormulae: true, newline: "\r\n" })}\r\n`)) await once(out, "drain");
  };
  await write([COLUMNS]);
  let waiting: unknown[][] = [];
  for (const place of index.places) {
    const path = pathText(index, place);
    for (const subject of index.subjects) {
      const cell = decide(index, subject.number, place.number, at);
      if (cell === 0) continue;
      const kind = subject.person?.kind ?? (subject.pass ? "pass" : "public");
      const state = place.place.kind === "site" ? "" : place.place.state;
      waiting.push([subject.key, kind, place.place.id, path, state, ...cellWords(cell)]);
    }
    if (waiting.length < BATCH) continue;
    await write(waiting);
    waiting = [];
  }
  if (waiting.length > 0) await write(waiting);
  out.end();
  await once(out, "finish");
}

function pathText(index: AccessIndex, place: CompiledPlace): string {
  const names: string[] = [];
  for (let here: CompiledPlace | undefined = place; here; here = index.places[here.parent]) names.unshift(here.place.id);
  return names.join(" / ");
}
