/** `npm run --silent access -- decide | explain | ripple`: answers questions from an access document, with no server and no database. */
import { createReadStream, readFileSync } from "node:fs";
import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { ABILITIES, type Ability, abilitiesIn } from "../src/core/access/abilities.ts";
import { type AccessIndex, placeOf, subjectOf } from "../src/core/access/accessIndex.ts";
import { compile } from "../src/core/access/compile.ts";
import { instantOf, type Subject } from "../src/core/access/document.ts";
import { effectiveSet, hasOversight } from "../src/core/access/evaluate.ts";
import { explain } from "../src/core/access/explain.ts";
import { parseAccessDocument } from "../src/core/access/parse.ts";
import { ripple } from "../src/core/access/ripple.ts";

const USAGE = `Usage:
  npm run --silent access -- decide  --document FILE [--at INSTANT]   questions on standard input, one JSON object a line
  npm run --silent access -- explain --document FILE [--at INSTANT]   the same questions, with "ability"
  npm run --silent access -- ripple  --before FILE --after FILE [--at INSTANT]`;

/** Something the caller can mend: one line on standard error, exit status 2. */
class UsageError extends Error {}

function load(file: string | undefined, flag: string): AccessIndex {
  if (file === undefined) throw new UsageError(`--${flag} FILE is missing`);
  let value: unknown;
  try {
    value = JSON.parse(readFileSync(file, "utf8"));
  } catch (error) {
    throw new UsageError(`${file}: ${(error as Error).message}`);
  }
  const parsed = parseAccessDocument(value);
  if (!parsed.ok)
    throw new UsageError(`${file} is not a sound access document:\n${parsed.errors.map((it) => `  ${it.path} ${it.message}`).join("\n")}`);
  return compile(parsed.document);
}

function instant(text: string | undefined): number {
  if (text === undefined) return Date.now();
  const at = instantOf(text);
  if (Number.isNaN(at)) throw new UsageError(`--at ${text}: not an ISO 8601 instant with an offset, like 2027-01-01T00:00:00Z`);
  return at;
}

class QuestionError extends Error {}

function readSubject(value: unknown): Subject {
  if (typeof value === "object" && value !== null && Object.keys(value).length === 1) {
    const it = value as Record<string, unknown>;
    if (it.public === true) return { public: true };
    if (typeof it.pass === "string") return { pass: it.pass };
    if (typeof it.person === "string") return { person: it.person };
  }
  throw new QuestionError('subject must be {"public": true}, {"pass": ID} or {"person": ID}');
}

/** Fields of a question; `decide` ignores the ability, so that one file of questions serves both commands. */
const FIELDS = ["subject", "place", "ability"];

function readQuestion(index: AccessIndex, line: string) {
  let question: Record<string, unknown>;
  try {
    question = JSON.parse(line);
  } catch {
    throw new QuestionError("not valid JSON");
  }
  if (typeof question !== "object" || question === null || Array.isArray(question)) throw new QuestionError("not a JSON object");
  const unknown = Object.keys(question).find((key) => !FIELDS.includes(key));
  if (unknown !== undefined) throw new QuestionError(`"${unknown}" is an unknown field`);
  const asked = readSubject(question.subject);
  const subject = subjectOf(index, asked);
  if (!subject) throw new QuestionError(`no such subject: ${JSON.stringify(asked)}`);
  const place = typeof question.place === "string" ? placeOf(index, question.place) : undefined;
  if (!place) throw new QuestionError(`no such place: ${JSON.stringify(question.place)}`);
  return { subject, place, ability: question.ability };
}

function decide(index: AccessIndex, line: string, at: number): unknown {
  const { subject, place } = readQuestion(index, line);
  return { abilities: abilitiesIn(effectiveSet(index, subject, place, at)), oversight: hasOversight(index, subject, place, at) };
}

function why(index: AccessIndex, line: string, at: number): unknown {
  const { subject, place, ability } = readQuestion(index, line);
  if (!ABILITIES.includes(ability as Ability)) throw new QuestionError(`ability must be one of ${ABILITIES.join(", ")}`);
  return explain(index, subject, ability as Ability, place, at);
}

/** Answers every line of standard input; true if all of them were questions. */
async function answerLines(answer: (line: string) => unknown): Promise<boolean> {
  let sound = true;
  let waiting: string[] = [];
  const flush = () =>
    new Promise<void>((done) => {
      const text = waiting.join("");
      waiting = [];
      process.stdout.write(text, () => done());
    });
  for await (const line of createInterface({ input: createReadStream("", { fd: 0 }), crlfDelay: Number.POSITIVE_INFINITY })) {
    if (line.trim() === "") continue;
    try {
      waiting.push(`${JSON.stringify(answer(line))}\n`);
    } catch (error) {
      if (!(error instanceof QuestionError)) throw error;
      sound = false;
      waiting.push(`${JSON.stringify({ error: error.message })}\n`);
    }
    if (waiting.length >= 4096) await flush();
  }
  await flush();
  return sound;
}

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: { document: { type: "string" }, at: { type: "string" }, before: { type: "string" }, after: { type: "string" } },
  });
  const at = instant(values.at);
  switch (positionals[0]) {
    case "decide":
    case "explain": {
      const index = load(values.document, "document");
      const answer = positionals[0] === "decide" ? decide : why;
      return (await answerLines((line) => answer(index, line, at))) ? 0 : 1;
    }
    case "ripple":
      process.stdout.write(`${JSON.stringify(ripple(load(values.before, "before"), load(values.after, "after"), at), null, 2)}\n`);
      return 0;
    default:
      throw new UsageError(positionals[0] === undefined ? USAGE : `unknown command "${positionals[0]}"\n${USAGE}`);
  }
}

try {
  process.exitCode = await main();
} catch (error) {
  const mendable = error instanceof UsageError || (error as { code?: string }).code?.startsWith("ERR_PARSE_ARGS");
  if (!mendable) throw error;
  console.error(`access: ${(error as Error).message}`);
  process.exitCode = 2;
}
