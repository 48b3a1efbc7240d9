/** Seeing somebody off: everything that would be nobody's, handed on line by line; suspended now or at a last day; one change. */
import type { Made, Preview } from "../../../contracts/change.ts";
import type { LeaveBody, LeavingLine, LeavingPerson, LookAtLeavingBody, Replacing } from "../../../contracts/leaving.ts";
import { MOST_EDITS } from "../../../contracts/rules.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { withSentences } from "../../../core/access/explain/index.ts";
import { isActive, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, HELD, type Held, instantOf, type Person } from "../../../core/access/model/index.ts";
import { replacing } from "../../../core/access/replacing/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, cellOf, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { overseersOf, pagesOwnedBy } from "../people/told.ts";
import { heldBy } from "./held.ts";

const MOST_EXAMPLES = 4;
const WORDS: Readonly<Record<Held, readonly [string, string]>> = {
  passes: ["pass they made", "passes they made"],
  invitations: ["guest they brought in", "guests they brought in"],
  tokens: ["token they made", "tokens they made"],
  schedules: ["page they set a time for", "pages they set a time for"],
  managed: ["group they manage", "groups they manage"],
  drafts: ["private draft on their workbench", "private drafts on their workbench"],
  flags: ["flag they are to answer", "flags they are to answer"],
  routines: ["routine that runs as them", "routines that run as them"],
  submissions: ["page they gave in for approval", "pages they gave in for approval"],
};

/** What could go to somebody: a line, and the edits that hand it on. */
interface Part extends LeavingLine {
  edits(to: string): Edit[];
}

const counted = (count: number, [one, many]: readonly [string, string]): string =>
  `${count.toLocaleString("en")} ${count === 1 ? one : many}`;

/** Somebody who is to be seen off; for site keepers. */
function leaver(access: Access, asker: string, id: string): Person {
  need(access, subjectFor(access, asker), "changePeople");
  const person = subjectOf(access.index, { person: id })?.person;
  if (!person) throw notThere();
  return person;
}

/** Lists in one for each space, the site under its own id. */
function bySpace<T>({ index }: Access, list: readonly T[], placeId: (it: T) => string): { id: string; title: string; list: T[] }[] {
  const found = new Map<string, { id: string; title: string; list: T[] }>();
  for (const it of list) {
    const place = placeOf(index, placeId(it));
    const space = place?.place.kind === "site" ? place : index.places[place?.space ?? -1];
    if (!space) continue;
    const id = space.place.id;
    const title = space.place.kind === "site" ? "the whole site" : (space.place.title ?? "");
    const known = found.get(id) ?? { id, title, list: [] };
    known.list.push(it);
    found.set(id, known);
  }
  return [...found.values()];
}

/** Pages they own, by space. */
const owned = (access: Access, { id }: Person): Part[] =>
  bySpace(access, pagesOwnedBy(access.index, id), ({ place }) => place.id).map(({ id: space, title, list }) => ({
    key: `owns:${space}`,
    words: `${counted(list.length, ["page", "pages"])} in ${title}`,
    examples: list.slice(0, MOST_EXAMPLES).map(({ place }) => place.title ?? ""),
    edits: (to) => list.map(({ place }): Edit => ({ kind: "owner", place: place.id, from: id, to })),
  }));

/** Rules that name them, by space. */
function named(access: Access, { id }: Person): Part[] {
  const rules = replacing(access.index.document, { person: id }, { person: "" }, { place: () => true, groups: false, pledges: false });
  const placeIn = (edit: Edit) => ("place" in edit ? edit.place : "");
  return bySpace(access, rules, placeIn).map(({ id: space, title, list }) => {
    const places = new Set(list.map(placeIn));
    const at = [...places].map((it) =>
      placeOf(access.index, it)?.place.kind === "site" ? "the site" : (placeOf(access.index, it)?.place.title ?? ""),
    );
    return {
      key: `named:${space}`,
      words: `${counted(list.length, ["rule that names them", "rules that name them"])} in ${title}`,
      examples: at.slice(0, MOST_EXAMPLES),
      edits: (to) =>
        replacing(access.index.document, { person: id }, { person: to }, { place: (it) => places.has(it), groups: false, pledges: false }),
    };
  });
}

async function held(tx: Tx, access: Access, { id }: Person): Promise<Part[]> {
  const parts: Part[] = [];
  const nameOf: Readonly<Record<Held, (it: string) => string>> = {
    passes: (it) => placeOf(access.index, access.index.document.passes.find((pass) => pass.id === it)?.place ?? "")?.place.title ?? "",
    invitations: (it) => subjectOf(access.index, { person: it })?.person?.name ?? "",
    tokens: () => "",
    schedules: (it) => placeOf(access.index, it)?.place.title ?? "",
    submissions: (it) => placeOf(access.index, it)?.place.title ?? "",
    drafts: () => "",
    flags: () => "",
    routines: () => "",
    managed: (it) => access.index.document.groups.find((group) => group.id === it)?.name ?? "",
  };
  for (const what of HELD) {
    const ids = await heldBy(tx, what, id);
    if (ids.length > 0)
      parts.push({
        key: what,
        words: counted(ids.length, WORDS[what]),
        examples: ids.slice(0, MOST_EXAMPLES).map(nameOf[what]).filter(Boolean),
        edits: (to) => [{ kind: "handOver", what, from: id, to, ids }],
      });
  }
  return parts;
}

const partsOf = async (tx: Tx, access: Access, person: Person): Promise<Part[]> => [
  ...owned(access, person),
  ...named(access, person),
  ...(await held(tx, access, person)),
];

/** Spaces only they keep, those who keep the site aside. */
function keptAlone(access: Access, person: Person): LeavingPerson["alone"] {
  const { index } = access;
  const who = subjectFor(access, person.id);
  const ofSite = overseersOf(access, siteOf(index), OVERSEES);
  if (cellOf(access, who, siteOf(index)) & OVERSEES) return [];
  return index.blocks.flatMap(({ space }) => {
    const place = index.places[space];
    if (place?.place.kind !== "space" || place.place.state === "binned" || !(cellOf(access, who, place) & OVERSEES)) return [];
    return overseersOf(access, place, OVERSEES) - ofSite === 1 ? [{ id: place.place.id, name: place.place.title ?? "" }] : [];
  });
}

export const readLeaving = (asker: string, id: string): Promise<LeavingPerson> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const person = leaver(access, asker, id);
    const parts = await partsOf(tx, access, person);
    return {
      id,
      name: person.name ?? id,
      lines: parts.map(({ key, words, examples }) => ({ key, words, examples })),
      alone: keptAlone(access, person),
      suspended: person.status === "suspended",
    };
  });

/** Refuses successors who could not take anything over. */
function checkSuccessors(access: Access, leaving: Person, ids: readonly string[]): void {
  for (const id of new Set(ids)) {
    const subject = subjectOf(access.index, { person: id });
    if (!(subject?.person?.kind === "member" && isActive(subject, access.at)))
      throw badRequest("What somebody leaves goes to members who can come in.");
    if (id === leaving.id) throw badRequest("What they leave goes to somebody else.");
  }
}

/** The edits of a leaving: what goes to whom, then their end. */
async function leavingEdits(tx: Tx, access: Access, person: Person, order: LookAtLeavingBody): Promise<Edit[]> {
  const to = new Map(order.lines.map((line) => [line.key, line.to]));
  const parts = await partsOf(tx, access, person);
  const known = new Set(parts.map(({ key }) => key));
  if (order.lines.some(({ key }) => !known.has(key))) throw badRequest("One of the lines is not theirs any more. Look at it anew.");
  checkSuccessors(access, person, [...(order.to === null ? [] : [order.to]), ...[...to.values()].filter((it) => it !== null)]);
  if (order.until !== null && !(instantOf(order.until) > access.at))
    throw badRequest("Their last day must lie ahead. To see them off at once, leave it out.");
  const edits = parts.flatMap((part) => {
    const whom = to.has(part.key) ? (to.get(part.key) ?? null) : order.to;
    return whom === null ? [] : part.edits(whom);
  });
  const put: Person = order.until === null ? { ...person, status: "suspended" } : { ...person, until: order.until };
  const ends = person.status === "suspended" && order.until === null;
  return [...edits, ...(ends ? [] : [{ kind: "person", person: person.id, remove: person, put } satisfies Edit])];
}

/** Refuses whoever may see nobody off, before anything is worked out. */
async function checkFirst(maker: string, id: string): Promise<void> {
  leaver(await accessNow(), maker, id);
}

export const lookAtLeavingHere = (maker: string, id: string, order: LookAtLeavingBody): Promise<Preview> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const edits = await leavingEdits(tx, access, leaver(access, maker, id), order);
    return previewOf(await planChange(tx, { maker, edits, leaving: true }));
  });

export const lookAtLeaving = ofWholeSite("lookAtLeavingHere", checkFirst, lookAtLeavingHere);

export const leaveHere = (maker: string, id: string, { note, seen, reason, ...order }: LeaveBody): Promise<Made> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const edits = await leavingEdits(tx, access, leaver(access, maker, id), order);
    if (edits.length === 0) throw badRequest("There is nothing to be done: they are suspended, and nothing goes to anybody.");
    const entry = await makeChange(tx, {
      maker,
      edits,
      act: "leave",
      note,
      seen,
      leaving: true,
      detail: { person: id },
      ...(reason ? { reason } : {}),
    });
    return { seq: entry.seq };
  });

export const leave = ofWholeSite("leaveHere", checkFirst, leaveHere);

/** What puts another person in somebody's place wherever rules, groups or pledges name them. */
export const readReplacing = (asker: string, id: string, by: string): Promise<Replacing> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    leaver(access, asker, id);
    if (!subjectOf(access.index, { person: by })?.person || by === id) throw badRequest("Choose somebody else who is here.");
    const edits = replacing(access.index.document, { person: id }, { person: by });
    if (edits.length > MOST_EDITS)
      throw badRequest(`This is ${edits.length} changes, more than ${MOST_EDITS} at once. See them off instead: that hands on everything.`);
    return withSentences(edits, namesFor(access, subjectFor(access, asker)));
  });
