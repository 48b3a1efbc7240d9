/** Routines of the site and of spaces: what there are, making them, setting them otherwise, taking them away, and what one would do today. */
import { and, asc, count, eq, isNull } from "drizzle-orm";
import {
  type ChangeRoutineBody,
  type LookAtRoutineBody,
  MOST_ROUTINES,
  PREVIEW_ROWS,
  type RoutineList,
  type RoutineMade,
  type RoutinePreview,
  type RoutineRow,
  type SaveRoutineBody,
  type SwitchRoutineBody,
  TIMES_SHOWN,
  type TouchedLine,
} from "../../../contracts/routines.ts";
import { type CompiledSubject, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import {
  finalWords,
  isAboutGuests,
  nextTimes,
  type Routine,
  routineSentence,
  type Schedule,
  troublesOf,
} from "../../../core/routines/index.ts";
import { type Access, isKeeper, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { knowsPeople, knowsPlace, namesFor, titlesAbove } from "../../access/known.ts";
import { inChange, inSnapshot, inSnapshotOfLists, type Tx } from "../../db/client.ts";
import { routines } from "../../db/schema/index.ts";
import { newId } from "../../ids.ts";
import { appendEntry } from "../../ledger/append.ts";
import { badRequest, changedMeanwhile, notThere, refused } from "../../trouble.ts";
import { runsOf } from "./runs.ts";
import { routineOf } from "./shape.ts";
import { keepsRoutines, maySetAs, type RoutineRecord, runnerOf, scopeOf, whyNot, whyShut } from "./standing.ts";
import { type Taken, takingOf } from "./taking.ts";

const timesAhead = (schedule: Schedule, at: number): string[] =>
  nextTimes(schedule, at, TIMES_SHOWN).map((time) => new Date(time).toISOString());

const ofRecord = ({ which, action, cron, zone, most }: RoutineRecord): Routine => ({ which, action, schedule: { cron, zone }, most });

/** What a routine names by ids, as its asker may know it. */
function namesIn(access: Access, me: CompiledSubject, { which, action }: Routine): Record<string, string> {
  const names = namesFor(access, me);
  const found: Record<string, string> = {};
  if (!isAboutGuests(which)) {
    for (const id of [...(which.spaces ?? []), which.branch]) if (id !== undefined) found[id] = names.place(id).replace(/^“|”$/g, "");
    if (which.owner !== undefined) found[which.owner] = names.person(which.owner);
  }
  if (action.what === "tellGroup") found[action.group] = names.group(action.group);
  return found;
}

/** Where somebody keeps routines: the site, and spaces that are live. */
function scopesOf(access: Access, me: CompiledSubject): RoutineList["scopes"] {
  const spaces = access.index.blocks.flatMap(({ space }) => {
    const place = access.index.places[space];
    return place?.place.kind === "space" && place.place.state === "live" && keepsRoutines(access, me, place.place.id)
      ? [{ id: place.place.id, name: place.place.title ?? "" }]
      : [];
  });
  return [...(keepsRoutines(access, me, null) ? [{ id: null, name: "the whole site" }] : []), ...spaces];
}

async function rowOf(tx: Tx, access: Access, me: CompiledSubject, record: RoutineRecord): Promise<RoutineRow> {
  const routine = ofRecord(record);
  const names = namesFor(access, me);
  const { id, name, rev, spaceId, cron, zone, most, asId, isOn } = record;
  return {
    id,
    name,
    rev,
    space: spaceId === null ? null : { id: spaceId, name: placeOf(access.index, spaceId)?.place.title ?? "" },
    which: routine.which,
    action: routine.action,
    cron,
    zone,
    most,
    as: { id: asId, name: names.person(asId) },
    on: isOn,
    sentence: routineSentence(routine, names, spaceId),
    final: finalWords(routine.action),
    times: timesAhead(routine.schedule, access.at),
    problem: whyNot(access, record),
    names: namesIn(access, me, routine),
    runs: await runsOf(tx, access, me, id),
    mayChange: maySetAs(access, me, asId),
  };
}

/** Routines somebody keeps. */
export const listRoutines = (asker: string): Promise<RoutineList> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const scopes = scopesOf(access, me);
    const rows = await tx.select().from(routines).where(eq(routines.gone, false)).orderBy(asc(routines.name), asc(routines.id));
    const kept: RoutineRow[] = [];
    for (const record of rows) if (keepsRoutines(access, me, record.spaceId)) kept.push(await rowOf(tx, access, me, record));
    return { routines: kept, scopes, mayChooseAs: isKeeper(access, me), me: { id: asker, name: me.person?.name ?? "" } };
  });

/** Who asks for a routine of a space or the site, where they keep it; elsewhere there is nothing to be made. */
function keeperOf(access: Access, asker: string, spaceId: string | null): CompiledSubject {
  const me = subjectFor(access, asker);
  const scope = scopeOf(access, spaceId);
  if (!scope || (spaceId !== null && (!maySee(access, me, scope) || scope.place.kind !== "space"))) throw notThere();
  if (!keepsRoutines(access, me, spaceId)) throw refused("Routines are set by those who keep the space or the site.");
  return me;
}

/** As whom it runs, as far as its maker may say so. */
function runnerFor(access: Access, me: CompiledSubject, as: string): CompiledSubject {
  if (!maySetAs(access, me, as)) throw refused("A routine of yours runs as you: only site keepers choose somebody else.");
  const runner = runnerOf(access, as);
  if (!runner) throw badRequest("A routine runs as a member who is let in. Choose somebody else.");
  return runner;
}

/** Ids in it that are not for its maker to know, or are none. */
function unknownIn(access: Access, me: CompiledSubject, { which, action }: Routine): string | null {
  if (!isAboutGuests(which)) {
    if (which.spaces?.some((id) => !knowsPlace(access, me, id) || placeOf(access.index, id)?.place.kind !== "space"))
      return "One of the spaces is not there, or not open to you.";
    if (which.branch !== undefined && !knowsPlace(access, me, which.branch))
      return "The page it is in and below is not there, or not open to you.";
    if (which.owner !== undefined && !(knowsPeople(access, me) && subjectOf(access.index, { person: which.owner })))
      return "There is no such owner.";
  }
  if (action.what === "tellGroup" && !access.index.document.groups.some(({ id }) => id === action.group)) return "There is no such group.";
  return null;
}

/** Everything that is wrong with a routine, in sentences. */
function troubles(access: Access, me: CompiledSubject, routine: Routine): string[] {
  const unknown = unknownIn(access, me, routine);
  return [...(unknown === null ? [] : [unknown]), ...troublesOf(routine, access.at)];
}

/** The first of what it would take, as far as its asker may know of it by name. */
function touchedLines(access: Access, me: CompiledSubject, { which }: Routine, taken: readonly Taken[]): TouchedLine[] {
  const names = namesFor(access, me);
  return taken.slice(0, PREVIEW_ROWS).flatMap(({ id, reasons, host }): TouchedLine[] => {
    if (isAboutGuests(which)) return [{ id, title: names.person(id), where: host ? names.person(host) : "", reasons }];
    const place = placeOf(access.index, id);
    if (!place || !maySee(access, me, place)) return [];
    return [{ id, title: place.place.title ?? "", where: titlesAbove(access, me, place)[0] ?? "", reasons }];
  });
}

/** What a routine would do at this moment; changes nothing. Of one that is kept, what it told lately is not told again. */
export const lookAtRoutine = (asker: string, order: LookAtRoutineBody): Promise<RoutinePreview> =>
  inSnapshotOfLists(async (tx) => {
    const access = await readAccess(tx);
    const id = order.kept === undefined ? null : (await keptRoutine(tx, asker, order.kept)).record.id;
    const me = keeperOf(access, asker, order.space);
    const routine = routineOf(order);
    const as = runnerFor(access, me, order.as);
    const wrong = troubles(access, me, routine);
    const told = {
      sentence: routineSentence(routine, namesFor(access, me), order.space),
      final: finalWords(routine.action),
      troubles: wrong,
      times: timesAhead(routine.schedule, access.at),
    };
    if (wrong.length > 0) return { ...told, fits: 0, touches: 0, leftAlone: 0, notAllowed: 0, beyond: 0, rows: [], hidden: 0 };
    const { fits, todo, notAllowed, taken } = await takingOf(
      tx,
      access,
      { ...routine, routine: id, spaceId: order.space, as },
      PREVIEW_ROWS,
    );
    const rows = touchedLines(access, me, routine, taken);
    const named = Math.min(taken.length, PREVIEW_ROWS);
    const beyond = todo - notAllowed - taken.length;
    return { ...told, fits, touches: taken.length, leftAlone: fits - todo, notAllowed, beyond, rows, hidden: named - rows.length };
  });

const columnsOf = (access: Access, me: CompiledSubject, { which, action, schedule, most }: Routine, order: SaveRoutineBody) => ({
  name: order.name,
  spaceId: order.space,
  which,
  action,
  cron: schedule.cron,
  zone: schedule.zone,
  most,
  asId: order.as,
  setBy: me.person?.id ?? "",
  setAt: new Date(access.at),
  isOn: order.on,
  nextAt: order.on ? new Date(nextTimes(schedule, access.at, 1)[0] as number) : null,
});

/** What is asked for, read and found sound, for its maker to keep. */
function sound(access: Access, me: CompiledSubject, order: SaveRoutineBody): Routine {
  const routine = routineOf(order);
  runnerFor(access, me, order.as);
  const shut = whyShut(access, order.space);
  const wrong = [...(shut === null ? [] : [`${shut} Nothing runs there.`]), ...troubles(access, me, routine)];
  if (wrong.length > 0) throw badRequest(wrong.join(" "));
  return routine;
}

const noted = (tx: Tx, access: Access, maker: string, record: Pick<RoutineRecord, "id" | "spaceId">, note: string) =>
  appendEntry(
    tx,
    { maker, act: "routine", places: [record.spaceId ?? siteOf(access.index).place.id], detail: { routine: record.id }, note },
    access.at,
  );

export const makeRoutine = (maker: string, order: SaveRoutineBody): Promise<RoutineMade> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = keeperOf(access, maker, order.space);
    const routine = sound(access, me, order);
    const ofScope = order.space === null ? isNull(routines.spaceId) : eq(routines.spaceId, order.space);
    const [known] = await tx
      .select({ count: count() })
      .from(routines)
      .where(and(ofScope, eq(routines.gone, false)));
    if ((known?.count ?? 0) >= MOST_ROUTINES) throw badRequest(`There are ${MOST_ROUTINES} routines here already. Take one away first.`);
    const id = newId();
    await tx.insert(routines).values({ id, ...columnsOf(access, me, routine, order) });
    await noted(tx, access, maker, { id, spaceId: order.space }, `Routine “${order.name}” made${order.on ? " and switched on" : ""}`);
    return { id, rev: 1 };
  });

/** A routine somebody keeps, in a change; for everybody else there is none. */
export async function keptRoutine(
  tx: Tx,
  asker: string,
  id: string,
): Promise<{ access: Access; me: CompiledSubject; record: RoutineRecord }> {
  const access = await readAccess(tx);
  const me = subjectFor(access, asker);
  const [record] = await tx
    .select()
    .from(routines)
    .where(and(eq(routines.id, id), eq(routines.gone, false)));
  if (!record || !keepsRoutines(access, me, record.spaceId)) throw notThere();
  return { access, me, record };
}

export function checkRev(record: RoutineRecord, rev: number): void {
  if (record.rev !== rev)
    throw changedMeanwhile("Somebody set this routine otherwise meanwhile. Look at it again; what you typed is kept here.");
}

/** Whoever may not let it run as its person sets nothing of it. */
export function checkAs(access: Access, me: CompiledSubject, { asId }: RoutineRecord): void {
  if (!maySetAs(access, me, asId)) throw refused("It runs as somebody else: only site keepers set it. You may switch it off.");
}

export const changeRoutine = (maker: string, id: string, order: ChangeRoutineBody): Promise<RoutineMade> =>
  inChange(async (tx) => {
    const { access, record } = await keptRoutine(tx, maker, id);
    const me = keeperOf(access, maker, order.space);
    checkAs(access, me, record);
    checkRev(record, order.rev);
    const routine = sound(access, me, order);
    const rev = record.rev + 1;
    await tx
      .update(routines)
      .set({ ...columnsOf(access, me, routine, order), rev })
      .where(eq(routines.id, id));
    await noted(
      tx,
      access,
      maker,
      { id, spaceId: order.space },
      `Routine “${order.name}” set otherwise${order.on === record.isOn ? "" : order.on ? ", switched on" : ", switched off"}`,
    );
    return { id, rev };
  });

export const switchRoutine = (maker: string, id: string, { on, rev }: SwitchRoutineBody): Promise<RoutineMade> =>
  inChange(async (tx) => {
    const { access, me, record } = await keptRoutine(tx, maker, id);
    if (on) checkAs(access, me, record);
    checkRev(record, rev);
    if (record.isOn === on) return { id, rev };
    const [next] = on ? nextTimes({ cron: record.cron, zone: record.zone }, access.at, 1) : [];
    const why = on ? (whyNot(access, record) ?? (next === undefined ? "Its time never comes. Set another first." : null)) : null;
    if (why !== null) throw badRequest(why);
    await tx
      .update(routines)
      .set({ isOn: on, nextAt: next === undefined ? null : new Date(next), rev: rev + 1 })
      .where(eq(routines.id, id));
    await noted(tx, access, maker, record, `Routine “${record.name}” switched ${on ? "on" : "off"}`);
    return { id, rev: rev + 1 };
  });

export const removeRoutine = (maker: string, id: string): Promise<Record<string, never>> =>
  inChange(async (tx) => {
    const { access, record } = await keptRoutine(tx, maker, id);
    await tx
      .update(routines)
      .set({ gone: true, isOn: false, nextAt: null, rev: record.rev + 1 })
      .where(eq(routines.id, id));
    await noted(tx, access, maker, record, `Routine “${record.name}” taken away`);
    return {};
  });
