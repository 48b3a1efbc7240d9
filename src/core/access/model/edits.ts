/**
 * Edits: the smallest changes to an access document. The tray holds them, the ledger keeps them, taking back inverts
 * them. An edit names what it replaces by value, so that a change made meanwhile by somebody else is noticed.
 */

import { maskOf } from "./abilities.ts";
import {
  type AccessDocument,
  type Ceilings,
  type Fence,
  type Grant,
  type Group,
  type GroupMember,
  type Pass,
  type Person,
  type Place,
  type Pledge,
  principalKey,
  type Stance,
} from "./document.ts";
import { actBetween, leadsTo, type StateMark, sameMark, wayBack } from "./states.ts";

/** What stands in the document before (absent: nothing yet) and after (absent: nothing any more). */
interface Swap<T> {
  remove?: T;
  put?: T;
}

export type PlaceEdit =
  | ({ kind: "grant"; place: string } & Swap<Grant>)
  | ({ kind: "fence"; place: string } & Swap<Fence>)
  | { kind: "stance"; place: string; from: Stance; to: Stance }
  | { kind: "state"; place: string; from: StateMark; to: StateMark }
  | { kind: "owner"; place: string; from: string | null; to: string | null }
  | { kind: "tags"; place: string; from: string[]; to: string[] }
  | { kind: "move"; place: string; from: string; to: string }
  /** Where a page stands among its siblings, as keys that sort (lifecycle.md, "Order"); the document does not hold it. */
  | { kind: "order"; place: string; from: string; to: string }
  /** The page people land on in a space, of the space; null: none. The document does not hold it. */
  | { kind: "landing"; place: string; from: string | null; to: string | null }
  /** How far a page is, in a word of its space; the document does not hold it. */
  | { kind: "readiness"; place: string; from: string | null; to: string | null }
  /** The words a space names readiness by, in order; the document does not hold them. */
  | { kind: "readinessWords"; place: string; from: string[]; to: string[] }
  /** Whether the pages of a space stand by hand or by name; the document does not hold it. */
  | { kind: "arranged"; place: string; from: "hand" | "name"; to: "hand" | "name" }
  /** Out of the bin for good (lifecycle.md, "Erasing"): the document does not hold it any more. */
  | { kind: "erase"; place: string }
  /** Of the site (where neither side is null) or of a space. */
  | { kind: "ceilings"; place: string; from: Ceilings | null; to: Ceilings | null };

/** A page or bulletin starts as a draft of its owner; a space starts live, and nobody owns it. */
export type StartEdit = { kind: "start"; place: string; parent: string } & ({ as: "page" | "bulletin"; owner: string } | { as: "space" });

export type GroupEdit =
  | ({ kind: "group"; group: string } & Swap<Omit<Group, "members">>)
  | ({ kind: "member"; group: string } & Swap<GroupMember>);

/** Things that are told apart by an id of their own. People and passes stay in the document once they are in it. */
export type ThingEdit =
  | ({ kind: "person"; person: string } & Swap<Person>)
  | ({ kind: "pass"; pass: string } & Swap<Pass>)
  | ({ kind: "pledge"; pledge: string } & Swap<Pledge>);

export type Edit = PlaceEdit | StartEdit | GroupEdit | ThingEdit;

/** An edit that no longer fits the document it is applied to. */
export interface EditConflict {
  edit: Edit;
  /** It never could be made, whoever changed what meanwhile: no act leads there (lifecycle.md, "States and acts"). */
  unlawful?: true;
  /** What was changed meanwhile, for a person to read. */
  message: string;
}

export type Applied = { ok: true; document: AccessDocument } | { ok: false; conflicts: EditConflict[] };

/** Id of the place an edit is about, or null where it is about people, groups or pledges. */
export function placeOfEdit(edit: Edit): string | null {
  if ("place" in edit) return edit.place;
  return edit.kind === "pass" ? ((edit.put ?? edit.remove)?.place ?? null) : null;
}

export const grantKey = (grant: Grant): string =>
  `${principalKey(grant.to)}|${maskOf(grant.abilities)}|${grant.until ?? ""}|${grant.draft === true}`;

export const fenceKey = (fence: Fence): string => `${fence.kind}|${fence.admits.map(principalKey).sort().join(",")}`;

/** A list without repeats: a rule that stands somewhere twice is one rule. */
export const distinct = <T>(list: readonly T[], key: (item: T) => string): T[] => [
  ...new Map(list.map((item) => [key(item), item])).values(),
];

/** Swaps one item of a list, found by key; null if the one to remove is not there or the one to put already is. */
function swap<T>(items: readonly T[], key: (item: T) => string, { remove, put }: Swap<T>): T[] | null {
  const list = distinct(items, key);
  const found = remove === undefined ? list.length : list.findIndex((item) => key(item) === key(remove));
  if (found < 0) return null;
  const rest = list.filter((_, i) => i !== found);
  if (put === undefined) return rest;
  if (rest.some((item) => key(item) === key(put))) return null;
  return [...rest.slice(0, found), put, ...rest.slice(found)];
}

/** Whether two values say the same, whatever order their fields are in. */
export const sameValue = (a: unknown, b: unknown): boolean => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** Fields in one order, those without a value left out: what came back from a database compares equal. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== "object" || value === null) return value;
  const fields = Object.entries(value).filter(([, it]) => it !== undefined && it !== null);
  return Object.fromEntries(fields.sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, it]) => [key, sorted(it)]));
}

const without = <T extends object, K extends keyof T>(value: T, field: K): Omit<T, K> => {
  const { [field]: _, ...rest } = value;
  return rest;
};

/** Why an edit does not fit: it does not any more, or it never could. */
interface Misfit {
  message: string;
  unlawful: true;
}

const unlawful = (message: string): Misfit => ({ message, unlawful: true });

/** One place with an edit made, or why the edit does not fit. */
function editPlace(place: Place, edit: PlaceEdit): Place | string | Misfit {
  switch (edit.kind) {
    case "grant": {
      const grants = swap(place.grants, grantKey, edit);
      if (grants) return { ...place, grants };
      return edit.remove ? "the grant it replaces was changed or taken away meanwhile" : "this very grant stands there already";
    }
    case "fence": {
      const fences = swap(place.fences, fenceKey, edit);
      if (fences) return { ...place, fences };
      return edit.remove ? "the fence it replaces was changed or taken away meanwhile" : "this very fence stands there already";
    }
    case "stance":
      return place.stance === edit.from ? { ...place, stance: edit.to } : "the stance was changed meanwhile";
    case "state": {
      if (!sameMark(place, edit.from)) return `the state was changed meanwhile: it is ${place.state} now`;
      const act = actBetween(place.kind, place, edit.to);
      if (!act) return unlawful(`nothing leads from ${place.state} to that`);
      // Thousands leave together, and few of them bear what an earlier state left.
      const bare = place.was === undefined && place.binnedFrom === undefined ? place : without(without(place, "was"), "binnedFrom");
      return { ...bare, ...leadsTo(act, place.kind, place) } as Place;
    }
    case "owner":
      if (place.kind !== "page" && place.kind !== "bulletin") return unlawful("only pages and bulletins have an owner");
      if ((place.owner ?? null) !== edit.from) return "the owner was changed meanwhile";
      return { ...without(place, "owner"), ...(edit.to === null ? {} : { owner: edit.to }) };
    case "tags":
      return sameValue(place.tags, edit.from) ? { ...place, tags: edit.to } : "the tags were changed meanwhile";
    case "move":
      return place.parent === edit.from ? { ...place, parent: edit.to } : "it was moved meanwhile";
    case "order":
    case "erase":
      return place;
    case "landing":
    case "readinessWords":
    case "arranged":
      return place.kind === "space" ? place : unlawful("that is set for a space");
    case "readiness":
      return place.kind === "page" || place.kind === "bulletin" ? place : unlawful("only pages and bulletins have a readiness");
    case "ceilings":
      if (!sameValue(place.ceilings ?? null, edit.from)) return "the ceilings were changed meanwhile";
      return { ...without(place, "ceilings"), ...(edit.to === null ? {} : { ceilings: edit.to }) };
  }
}

const startedPlace = (edit: StartEdit): Place => ({
  id: edit.place,
  kind: edit.as,
  parent: edit.parent,
  stance: "follow",
  ...(edit.as === "space" ? { state: "live" as const } : { state: "draft" as const, owner: edit.owner }),
  tags: [],
  grants: [],
  fences: [],
});

/** A list of things with ids, with one of them put, replaced or removed; or why that does not fit. */
function editThing<T extends { id: string }>(list: readonly T[], id: string, { remove, put }: Swap<T>, name: string): T[] | string {
  const found = list.findIndex((it) => it.id === id);
  if (remove === undefined) {
    if (found >= 0) return `a ${name} with this id is there already`;
    return put ? [...list, put] : [...list];
  }
  if (found < 0 || !sameValue(list[found], remove)) return `the ${name} was changed or taken away meanwhile`;
  return put === undefined ? list.filter((_, i) => i !== found) : list.map((it, i) => (i === found ? put : it));
}

function editGroup(groups: readonly Group[], edit: GroupEdit): Group[] | string {
  const i = groups.findIndex(({ id }) => id === edit.group);
  const group = groups[i];
  if (edit.kind === "member") {
    const members = group && swap(group.members, principalKey, edit);
    if (members) return groups.map((it) => (it === group ? { ...it, members } : it));
    if (!group) return "the group is gone";
    return edit.remove ? "this member was taken out of the group meanwhile" : "this member is in the group already";
  }
  if (edit.remove && !edit.put && group && group.members.length > 0) return "the group still has members";
  const bare = groups.map(({ members: _, ...rest }) => rest);
  const edited = editThing(bare, edit.group, edit, "group");
  if (typeof edited === "string") return edited;
  const members = new Map(groups.map((it) => [it.id, it.members]));
  return edited.map((it) => ({ ...it, members: members.get(it.id) ?? [] }));
}

/** A document while edits are made to it: lists are copied when first changed. */
class Draft {
  private places: Place[] | null = null;
  private readonly started = new Map<string, number>();
  private readonly erased = new Set<string>();
  private document: AccessDocument;

  constructor(
    document: AccessDocument,
    private readonly numberOf: (id: string) => number | undefined,
  ) {
    this.document = document;
  }

  /** What came of the edits. */
  get result(): AccessDocument {
    const { document, erased } = this;
    if (erased.size === 0) return document;
    const places = document.places.filter(({ id }) => !erased.has(id));
    return { ...document, places, passes: document.passes.filter(({ place }) => !erased.has(place)) };
  }

  private numberFor(id: string): number | undefined {
    if (this.erased.has(id)) return undefined;
    return this.numberOf(id) ?? this.started.get(id);
  }

  private setPlace(number: number, place: Place): void {
    if (!this.places) {
      this.places = this.document.places.slice();
      this.document = { ...this.document, places: this.places };
    }
    this.places[number] = place;
  }

  /** Makes one edit; why it does not fit, or null. */
  make(edit: Edit): string | Misfit | null {
    if (edit.kind === "start") return this.start(edit);
    if ("place" in edit) return this.place(edit);
    const { document } = this;
    const set = <K extends "people" | "groups" | "passes" | "pledges">(field: K, list: AccessDocument[K] | string): string | null => {
      if (typeof list === "string") return list;
      this.document = { ...document, [field]: list };
      return null;
    };
    switch (edit.kind) {
      case "person":
        if (!edit.put) return "a person stays known: suspend them instead";
        return set("people", editThing(document.people, edit.person, edit, "person"));
      case "pass":
        if (!edit.put) return "a pass stays known: revoke it instead";
        return set("passes", editThing(document.passes, edit.pass, edit, "pass"));
      case "pledge":
        return set("pledges", editThing(document.pledges, edit.pledge, edit, "pledge"));
      default:
        return set("groups", editGroup(document.groups, edit));
    }
  }

  private start(edit: StartEdit): string | null {
    if (this.numberFor(edit.place) !== undefined) return "a place with this id is there already";
    if (this.numberFor(edit.parent) === undefined) return "the place above is gone";
    const number = this.document.places.length;
    this.started.set(edit.place, number);
    this.setPlace(number, startedPlace(edit));
    return null;
  }

  private place(edit: PlaceEdit): string | Misfit | null {
    const number = this.numberFor(edit.place);
    const place = number === undefined ? undefined : this.document.places[number];
    if (number === undefined || !place) return "the place is gone";
    if (edit.kind === "ceilings" && place.kind === "site") {
      if (!sameValue(this.document.ceilings, edit.from)) return "the ceilings were changed meanwhile";
      this.document = { ...this.document, ceilings: edit.to as Required<Ceilings> };
      return null;
    }
    if (edit.kind === "move") {
      if (this.numberFor(edit.to) === undefined) return "the place to move it to is gone";
      if (this.standsIn(edit.to, edit.place)) return "it cannot be moved into itself";
    }
    if (edit.kind === "erase") {
      if (place.kind === "site") return unlawful("the site is not erased");
      this.erased.add(edit.place);
      return null;
    }
    const edited = editPlace(place, edit);
    if (typeof edited === "string" || "unlawful" in edited) return edited;
    this.setPlace(number, edited);
    return null;
  }

  private standsIn(inner: string, outer: string): boolean {
    for (let id: string | undefined = inner; id !== undefined; id = this.document.places[this.numberFor(id) ?? -1]?.parent)
      if (id === outer) return true;
    return false;
  }
}

/**
 * Applies edits in order to a document, all or none. Returns the new document (the old one is untouched; places keep
 * where they stand in it, new ones come last) or every edit that does not fit, with the reason. `numberOf` says where a
 * place stands, where that is known already.
 */
export function applyEdits(document: AccessDocument, edits: readonly Edit[], numberOf?: (id: string) => number | undefined): Applied {
  const numbers = numberOf ? null : new Map(document.places.map(({ id }, number) => [id, number]));
  const draft = new Draft(document, numberOf ?? ((id) => numbers?.get(id)));
  const conflicts = edits.flatMap((edit): EditConflict[] => {
    const misfit = draft.make(edit);
    if (misfit === null) return [];
    return [typeof misfit === "string" ? { edit, message: misfit } : { edit, ...misfit }];
  });
  return conflicts.length > 0 ? { ok: false, conflicts } : { ok: true, document: draft.result };
}

/**
 * The edits that undo these, in the order in which to make them (lifecycle.md, "Taking back"). What was started goes to
 * the bin, who came in is suspended: nothing is lost. What has no way back is left out.
 */
export const invertEdits = (edits: readonly Edit[]): Edit[] => [...edits].reverse().flatMap(inverse);

/** What an edit removed is put back, and what it put is removed. */
const swapped = <T>({ put, remove }: Swap<T>): Swap<T> => ({ ...(put ? { remove: put } : {}), ...(remove ? { put: remove } : {}) });

function inverse(edit: Edit): Edit | Edit[] {
  switch (edit.kind) {
    case "start":
      return edit.as === "space"
        ? { kind: "state", place: edit.place, from: { state: "live" }, to: { state: "binned" } }
        : { kind: "state", place: edit.place, from: { state: "draft" }, to: { state: "binned", was: "draft" } };
    case "person": {
      const back = swapped<Person>(edit);
      if (!back.put && back.remove) back.put = { ...back.remove, status: "suspended" };
      return { kind: "person", person: edit.person, ...back };
    }
    case "pass": {
      const back = swapped<Pass>(edit);
      if (!back.put && back.remove) back.put = { ...back.remove, revoked: true };
      // A withdrawn pass stays withdrawn: whoever was shut out is not let in again by taking back something else.
      if (back.put && back.remove?.revoked) back.put = { ...back.put, revoked: true };
      return sameValue(back.put, back.remove) ? [] : { kind: "pass", pass: edit.pass, ...back };
    }
    case "state": {
      const to = wayBack(edit.from, edit.to);
      return to ? { ...edit, from: edit.to, to } : [];
    }
    case "stance":
    case "owner":
    case "tags":
    case "move":
    case "order":
    case "landing":
    case "readiness":
    case "readinessWords":
    case "arranged":
    case "ceilings":
      return { ...edit, from: edit.to, to: edit.from } as Edit;
    case "erase":
      return [];
    default: {
      const { put: _, remove: __, ...rest } = edit;
      return { ...rest, ...swapped(edit as Swap<unknown>) } as Edit;
    }
  }
}

const NO_RULES: ReadonlySet<Edit["kind"]> = new Set([
  "state",
  "start",
  "tags",
  "order",
  "landing",
  "erase",
  "pledge",
  "readiness",
  "readinessWords",
  "arranged",
]);

/** Whether an edit changes who has access by rules, and not only the life of a page or what is said about it. */
export const isRuleEdit = (edit: Edit): boolean => !NO_RULES.has(edit.kind);
