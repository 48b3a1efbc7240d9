/** What the access command reads: documents, instants, questions, wishes; each error says what is wrong and where. */
import { readFileSync } from "node:fs";
import { parseAccessDocument } from "../../src/core/access/exchange/index.ts";
import { type AccessIndex, compile, placeOf, subjectOf } from "../../src/core/access/index/index.ts";
import {
  ABILITIES,
  type Ability,
  type Instant,
  instantAt,
  instantOf,
  LEVELS,
  type Level,
  type Principal,
  type Subject,
} from "../../src/core/access/model/index.ts";
import type { PlacedWish } from "../../src/core/access/propose/index.ts";

/** Something the caller can mend: one line on standard error, exit status 2. */
export class UsageError extends Error {}

/** A line of input that is no question: answered on its line, exit status 1 at the end. */
export class QuestionError extends Error {}

export function readIndex(file: string | undefined, flag: string): AccessIndex {
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

export function readInstant(text: string | undefined): Instant {
  if (text === undefined) return instantAt(Date.now());
  const at = instantOf(text);
  if (Number.isNaN(at)) throw new UsageError(`--at ${text}: not an ISO 8601 instant with an offset, like 2027-01-01T00:00:00Z`);
  return at;
}

function readObject(line: string, fields: readonly string[]): Record<string, unknown> {
  let value: Record<string, unknown>;
  try {
    value = JSON.parse(line);
  } catch {
    throw new QuestionError("not valid JSON");
  }
  if (typeof value !== "object" || value === null || Array.isArray(value)) throw new QuestionError("not a JSON object");
  const unknown = Object.keys(value).find((key) => !fields.includes(key));
  if (unknown !== undefined) throw new QuestionError(`"${unknown}" is an unknown field`);
  return value;
}

function readSubject(value: unknown): Subject {
  if (typeof value === "object" && value !== null && Object.keys(value).length === 1) {
    const it = value as Record<string, unknown>;
    if (it.public === true) return { public: true };
    if (typeof it.pass === "string") return { pass: it.pass };
    if (typeof it.person === "string") return { person: it.person };
  }
  throw new QuestionError('subject must be {"public": true}, {"pass": ID} or {"person": ID}');
}

/** One question; `decide` ignores the ability, so that one file of questions serves both commands. */
export function readQuestion(index: AccessIndex, line: string) {
  const question = readObject(line, ["subject", "place", "ability"]);
  const asked = readSubject(question.subject);
  const subject = subjectOf(index, asked);
  if (!subject) throw new QuestionError(`no such subject: ${JSON.stringify(asked)}`);
  const place = typeof question.place === "string" ? placeOf(index, question.place) : undefined;
  if (!place) throw new QuestionError(`no such place: ${JSON.stringify(question.place)}`);
  return { subject, place, ability: question.ability };
}

function readPrincipal(index: AccessIndex, value: unknown): Principal {
  if (typeof value === "object" && value !== null && Object.keys(value).length === 1) {
    const it = value as Record<string, unknown>;
    if (it.audience === "public" || it.audience === "accounts" || it.audience === "members") return { audience: it.audience };
    const known = (kind: string, id: unknown) => typeof id === "string" && index.principalNumbers.get(`${kind}:${id}`) !== undefined;
    if (known("group", it.group)) return { group: it.group as string };
    if (known("person", it.person)) return { person: it.person as string };
  }
  throw new QuestionError(`principal must be an audience, or a group or person of the document; it is ${JSON.stringify(value)}`);
}

function readLevel(value: unknown): Level {
  const level = typeof value === "number" ? value : LEVELS.indexOf(value as (typeof LEVELS)[number]);
  if (LEVELS[level] === undefined) throw new QuestionError(`level must be one of ${LEVELS.join(", ")}, or its number from 0 to 5`);
  return level as Level;
}

function readAbilities(value: unknown): Ability[] {
  if (!Array.isArray(value) || !value.every((it) => (ABILITIES as readonly unknown[]).includes(it)))
    throw new QuestionError(`abilities must be a list of ${ABILITIES.join(", ")}`);
  return value;
}

/** The wishes of one line: `{"wishes": [{"place", "principal", "level" or "abilities"}]}`. */
export function readWishes(index: AccessIndex, line: string): PlacedWish[] {
  const { wishes } = readObject(line, ["wishes"]);
  if (!Array.isArray(wishes) || wishes.length === 0) throw new QuestionError("wishes must be a list with something in it");
  return wishes.map((wish: unknown) => {
    const mixed = typeof wish === "object" && wish !== null && "abilities" in wish;
    const it = readObject(JSON.stringify(wish), ["place", "principal", mixed ? "abilities" : "level"]);
    if (typeof it.place !== "string" || !placeOf(index, it.place)) throw new QuestionError(`no such place: ${JSON.stringify(it.place)}`);
    return {
      place: it.place,
      principal: readPrincipal(index, it.principal),
      ...(mixed ? { abilities: readAbilities(it.abilities) } : { level: readLevel(it.level) }),
    };
  });
}
