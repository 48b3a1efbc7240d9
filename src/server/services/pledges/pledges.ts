/** Pledges as site keepers look at them: whether each holds, since when, where not and for whom, and one that is only thought of. */
import { desc, inArray } from "drizzle-orm";
import type { PledgeSaysBody } from "../../../contracts/peopleEdits.ts";
import type { PledgeList, PledgeRow, PledgeTried, PledgeTurn, PledgeWitness, PledgeWitnesses } from "../../../contracts/pledges.ts";
import { parseEdits } from "../../../core/access/exchange/index.ts";
import { explain, explanationText, pledgeSentence } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { bitOf, LEVELS, type Level, type Pledge, setOfLevel, subjectOfKey } from "../../../core/access/model/index.ts";
import { type Violation, violationsOf } from "../../../core/access/ripple/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor, subjectName, titlesAbove } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { pledgeTurns } from "../../db/schema/index.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { entriesInPassing } from "../ledger/told.ts";

const MOST_WITNESSES = 100;
const MOST_TURNS = 12;

interface Asking {
  access: Access;
  me: CompiledSubject;
}

async function asking(tx: Tx, asker: string): Promise<Asking> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  need(access, me, "changePledges");
  return { access, me };
}

const mayAsk = async (asker: string): Promise<void> => {
  const access = await accessNow();
  need(access, subjectFor(access, asker), "changePledges");
};

/** Turns of each pledge, the newest first. */
async function turnsOf(tx: Tx, { access, me }: Asking): Promise<Map<string, PledgeTurn[]>> {
  const ids = access.index.document.pledges.map(({ id }) => id);
  if (ids.length === 0) return new Map();
  const rows = await tx.select().from(pledgeTurns).where(inArray(pledgeTurns.pledgeId, ids)).orderBy(desc(pledgeTurns.nth));
  const entries = await entriesInPassing(
    tx,
    access,
    me,
    rows.map(({ seq }) => seq),
  );
  const by = new Map<string, PledgeTurn[]>();
  for (const { pledgeId, at, seq, broken } of rows) {
    const list = by.get(pledgeId) ?? [];
    by.set(pledgeId, list);
    if (list.length < MOST_TURNS) list.push({ at: at.toISOString(), broken, entry: (seq !== null && entries.get(seq)) || null });
  }
  return by;
}

/** Where one pledge does not hold. */
const violated = ({ index, at }: Access, pledge: Pledge): Violation[] => violationsOf(index, [pledge], at)[0] ?? [];

const total = (violations: readonly Violation[]): number => violations.reduce((sum, { count }) => sum + count, 0);

export const readPledgesHere = (asker: string): Promise<PledgeList> =>
  inSnapshot(async (tx) => {
    const it = await asking(tx, asker);
    const { access, me } = it;
    const turns = await turnsOf(tx, it);
    const names = namesFor(access, me);
    const { pledges } = access.index.document;
    const rows = violationsOf(access.index, pledges, access.at).map((violations, nth): PledgeRow => {
      const pledge = pledges[nth] as Pledge;
      return {
        pledge,
        sentence: pledgeSentence(pledge, names),
        count: total(violations),
        places: violations.length,
        turns: turns.get(pledge.id) ?? [],
      };
    });
    return { pledges: rows.sort((a, b) => Number(b.count > 0) - Number(a.count > 0)) };
  });

export const readPledges = ofWholeSite("readPledgesHere", mayAsk, readPledgesHere);

/** The highest level without an ability, or the lowest with it. */
const levelFor = ({ rule, ability }: Pledge): Level => {
  const levels = LEVELS.map((_, level) => level as Level);
  const has = (level: Level) => (setOfLevel(level) & bitOf(ability)) !== 0;
  return (rule === "always" ? levels.find(has) : levels.findLast((level) => !has(level))) ?? 0;
};

/** Whose level is to be another: the audience or the group the pledge is about, where that has one, else who breaks it. */
function mendOf({ access, me }: Asking, pledge: Pledge, subject: CompiledSubject): PledgeWitness["mend"] {
  const { who } = pledge;
  const level = levelFor(pledge);
  const names = namesFor(access, me);
  if (subject.pass) return pledge.rule === "never" ? { pass: subject.pass.id } : null;
  if (subject.person === null) return { column: "public", name: "The public", level };
  if ("group" in who) return { column: `group:${who.group}`, name: names.group(who.group), level };
  if ("class" in who && who.class === "members") return { column: "members", name: "Members", level };
  return { column: `person:${subject.person.id}`, name: names.person(subject.person.id), level };
}

function witnessTold(it: Asking, pledge: Pledge, { place: id, count, subjects }: Violation): PledgeWitness[] {
  const { access, me } = it;
  const place = placeOf(access.index, id) as CompiledPlace;
  const names = namesFor(access, me);
  const [first] = subjects.flatMap((key) => subjectOf(access.index, subjectOfKey(key)) ?? []);
  if (!first) return [];
  const why = explain(access.index, first, pledge.ability, place, access.at);
  return [
    {
      place: { id, name: place.place.kind === "site" ? "The site" : (place.place.title ?? "") },
      path: titlesAbove(access, me, place),
      count,
      who: subjects.map((key) => subjectName(access, names, key)),
      steps: explanationText(why, subjectName(access, names, first.key), names).steps,
      mend: mendOf(it, pledge, first),
    },
  ];
}

function witnessesTold(it: Asking, pledge: Pledge, violations: readonly Violation[]): PledgeWitnesses {
  const first = violations.slice(0, MOST_WITNESSES);
  return { witnesses: first.flatMap((violation) => witnessTold(it, pledge, violation)), more: violations.length - first.length };
}

export const readPledgeHere = (asker: string, id: string): Promise<PledgeWitnesses> =>
  inSnapshot(async (tx) => {
    const it = await asking(tx, asker);
    const pledge = it.access.index.document.pledges.find((other) => other.id === id);
    if (!pledge) throw notThere();
    return witnessesTold(it, pledge, violated(it.access, pledge));
  });

export const readPledge = ofWholeSite("readPledgeHere", mayAsk, readPledgeHere);

/** A pledge that was only said, as the core knows it; what it names must be there. */
function saidPledge({ access: { index } }: Asking, said: PledgeSaysBody): Pledge {
  const parsed = parseEdits([{ kind: "pledge", pledge: "tried", put: { ...said, id: "tried" } as Pledge }]);
  const [edit] = parsed.ok ? parsed.edits : [];
  if (!parsed.ok || edit?.kind !== "pledge" || !edit.put)
    throw badRequest(`This pledge cannot be read: ${parsed.ok ? "" : (parsed.errors[0]?.message ?? "")}.`);
  const { who, where } = edit.put;
  const there = "class" in who || index.principalNumbers.get("group" in who ? `group:${who.group}` : `person:${who.person}`) !== undefined;
  const places = [where.space, where.subtree].every((id) => id === undefined || placeOf(index, id) !== undefined);
  if (!there || !places) throw badRequest("Whom or what this pledge names is not there any more. Choose again.");
  return edit.put;
}

export const tryPledgeHere = (asker: string, said: PledgeSaysBody): Promise<PledgeTried> =>
  inSnapshot(async (tx) => {
    const it = await asking(tx, asker);
    const pledge = saidPledge(it, said);
    const violations = violated(it.access, pledge);
    return {
      sentence: pledgeSentence(pledge, namesFor(it.access, it.me)),
      count: total(violations),
      places: violations.length,
      ...witnessesTold(it, pledge, violations),
    };
  });

export const tryPledge = ofWholeSite("tryPledgeHere", mayAsk, tryPledgeHere);
