/** Who has something at a place, by why they have it: classes of people, opened on demand; now, or as of another instant. */
import { createHash } from "node:crypto";
import type { Who, WhoLine, WhoQuery } from "../../../contracts/slip.ts";
import { type Cell, decide, OVERSEES, oversightFrom, rowOfPlace, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { explain, explanationText, grantSentence } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, isActive, placeOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, describeSet, type SubjectNumber, subjectKey } from "../../../core/access/model/index.ts";
import { need } from "../../access/current.ts";
import { subjectName } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { nowOrThen, openSight, type Sight, seenThen } from "../grid/sight.ts";

type Kind = WhoLine["kind"];

/** Subjects that have the same at the place, since the same rules name them. */
interface Alike {
  kind: Kind;
  cell: Cell;
  subjects: CompiledSubject[];
}

const kindOf = ({ person, pass }: CompiledSubject): Kind => (person ? person.kind : pass ? "pass" : "public");

/** Everybody who has something at a place, in classes; whoever holds a pass, or owns the draft, is a class alone. */
function alikeAt({ access: { index, at } }: Sight, place: CompiledPlace): Alike[] {
  const { row, tables } = rowOfPlace(index, place.number, at);
  const owner = index.ownerGate[place.number] as SubjectNumber;
  const found = new Map<string, Alike>();
  for (const subject of index.subjects) {
    if (subject.person && !isActive(subject, at)) continue;
    const alone = subject.pass !== null || subject.number === owner;
    const number = tables.classOf[subject.number] as number;
    const cell = alone ? decide(index, subject.number, place.number, at) : (row[number] as Cell);
    if ((cell & (SET_OF_CELL | OVERSEES)) === 0) continue;
    const key = alone ? subject.key : `${number}`;
    const it = found.get(key);
    if (it) it.subjects.push(subject);
    else found.set(key, { kind: kindOf(subject), cell, subjects: [subject] });
  }
  return [...found.values()];
}

/** Why one of them has what they have: the nearest rule that gives the most of it, or what lets them oversee. */
function reasonOf(sight: Sight, place: CompiledPlace, { cell, subjects: [one] }: Alike): { through: string; place: string | null } {
  const { access, names } = sight;
  const known = (id: string) => {
    const there = placeOf(access.index, id);
    return there && sight.sees(there) ? id : null;
  };
  const top = abilitiesIn(cell & SET_OF_CELL).at(-1);
  if (!one) return { through: "", place: null };
  if (top === undefined) {
    const from = oversightFrom(access.index, one, place, access.at);
    return from
      ? { through: `through a Keeper grant on ${names.place(from.place.id)}`, place: known(from.place.id) }
      : { through: "", place: null };
  }
  const why = explain(access.index, one, top, place, access.at);
  const step = why.steps[0];
  const from = step && "place" in step ? step.place : null;
  if (step?.layer === "grants" && step.effect === "gives" && step.rule === "grant")
    return { through: `through “${grantSentence(step.grant, names)}” on ${names.place(step.place)}`, place: known(step.place) };
  return { through: explanationText(why, "", names).steps[0] ?? "", place: from === null ? null : known(from) };
}

const ORDER: readonly Kind[] = ["public", "pass", "guest", "member"];
const NAMED = 3;
const MOST_PEOPLE = 200;

interface Line extends WhoLine {
  subjects: CompiledSubject[];
}

function linesAt(sight: Sight, place: CompiledPlace): Line[] {
  const { access, names } = sight;
  const lines = new Map<string, Line>();
  for (const alike of alikeAt(sight, place)) {
    const { kind, cell, subjects } = alike;
    const set = cell & SET_OF_CELL;
    const oversight = (cell & OVERSEES) !== 0;
    const reason = reasonOf(sight, place, alike);
    const text = `${kind}|${set}|${oversight}|${reason.through}`;
    const it = lines.get(text);
    if (it) {
      it.subjects.push(...subjects);
      continue;
    }
    const key = createHash("sha256").update(text).digest("base64url").slice(0, 16);
    lines.set(text, { key, kind, count: 0, level: describeSet(set), set, oversight, ...reason, some: [], subjects: [...subjects] });
  }
  const all = [...lines.values()];
  for (const line of all) {
    line.count = line.subjects.length;
    line.some = line.subjects.slice(0, NAMED).map((subject) => subjectName(access, names, subjectKey(subject.subject)));
  }
  return all.sort(
    (a, b) =>
      ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) || b.set - a.set || Number(b.oversight) - Number(a.oversight) || b.count - a.count,
  );
}

export const readWhoHere = (asker: string, id: string, { at, open }: WhoQuery): Promise<Who> =>
  inSnapshot(async (tx) => {
    const sight = await openSight(tx, asker, at);
    const place = seenThen(sight, id);
    if (sight.live) need(sight.access, sight.me, "knowOthers", place);
    const lines = linesAt(sight, place);
    const opened = lines.find(({ key }) => key === open);
    const outside = (it: Line) => it.kind !== "member";
    const total = (which: readonly Line[]) => which.reduce((sum, { count }) => sum + count, 0);
    const people = (opened?.subjects ?? [])
      .map((subject) => {
        const viewpoint = subjectKey(subject.subject);
        return { viewpoint, name: subjectName(sight.access, sight.names, viewpoint) };
      })
      .sort((a, b) => a.name.localeCompare(b.name));
    return {
      lines: lines.map(({ subjects: _, ...line }) => line),
      outside: total(lines.filter(outside)),
      members: total(lines.filter((it) => !outside(it))),
      opened: opened ? { key: opened.key, people: people.slice(0, MOST_PEOPLE), more: Math.max(0, people.length - MOST_PEOPLE) } : null,
    };
  });

export const readWho = nowOrThen("readWhoHere", readWhoHere, (_, __, { at }) => at);
