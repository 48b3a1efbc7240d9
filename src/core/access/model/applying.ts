/** Making edits: an access document with edits made, all or none, or why they do not fit. */
import type { AccessDocument, Group, GroupMember, Pass, Person, Place } from "./document.ts";
import {
  type Applied,
  distinct,
  type Edit,
  type EditConflict,
  fenceKey,
  type GroupEdit,
  grantKey,
  type PlaceEdit,
  type StartEdit,
  type Swap,
  sameValue,
} from "./edits.ts";
import { actBetween, leadsTo, sameMark } from "./states.ts";

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
    case "settings":
    case "contents":
      return place.kind === "space" ? place : unlawful("that is set for a space");
    case "reviewPeriod":
    case "reviewed":
    case "flag":
      return place.kind === "page" || place.kind === "bulletin" ? place : unlawful("only pages and bulletins are reviewed");
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

const sameMember = (a: GroupMember, b: GroupMember): boolean =>
  "person" in a ? "person" in b && a.person === b.person : "group" in b && a.group === b.group;

/** The members of a group after an edit, or null where it does not fit; without making keys, since thousands come in together. */
function editMembers(members: readonly GroupMember[], { remove, put }: Swap<GroupMember>): GroupMember[] | null {
  const rest = remove ? members.filter((it) => !sameMember(it, remove)) : [...members];
  if (remove && rest.length === members.length) return null;
  if (!put) return rest;
  if (rest.some((it) => sameMember(it, put))) return null;
  rest.push(put);
  return rest;
}

function editGroup(groups: readonly Group[], edit: GroupEdit): Group[] | string {
  const i = groups.findIndex(({ id }) => id === edit.group);
  const group = groups[i];
  if (edit.kind === "member") {
    const members = group && editMembers(group.members, edit);
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
  /** Copies of lists that only grow, and where each thing stands in them. */
  private readonly kept: Partial<Record<"people" | "passes", { list: (Person | Pass)[]; at: Map<string, number> }>> = {};
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

  /** Puts or replaces one of the things that are never taken away; copied once, however many follow. */
  private swapKept<K extends "people" | "passes">(
    field: K,
    id: string,
    swap: Swap<AccessDocument[K][number]>,
    name: string,
  ): string | null {
    type Thing = AccessDocument[K][number];
    const kept = this.kept[field] ?? { list: [...this.document[field]], at: new Map(this.document[field].map((it, i) => [it.id, i])) };
    this.kept[field] = kept;
    const { at } = kept;
    const list = kept.list as Thing[];
    const found = at.get(id);
    if (swap.remove === undefined && found !== undefined) return `a ${name} with this id is there already`;
    if (swap.remove !== undefined && (found === undefined || !sameValue(list[found], swap.remove)))
      return `the ${name} was changed or taken away meanwhile`;
    if (swap.put) list[found ?? list.length] = swap.put;
    if (swap.put && found === undefined) at.set(id, list.length - 1);
    this.document = { ...this.document, [field]: list };
    return null;
  }

  /** Makes one edit; why it does not fit, or null. */
  make(edit: Edit): string | Misfit | null {
    if (edit.kind === "start") return this.start(edit);
    if ("place" in edit) return this.place(edit);
    const { document } = this;
    const set = <K extends "groups" | "pledges">(field: K, list: AccessDocument[K] | string): string | null => {
      if (typeof list === "string") return list;
      this.document = { ...document, [field]: list };
      return null;
    };
    switch (edit.kind) {
      case "house":
      case "handOver":
      case "managers":
        return null;
      case "person":
        if (!edit.put) return "a person stays known: suspend them instead";
        return this.swapKept("people", edit.person, edit, "person");
      case "pass":
        if (!edit.put) return "a pass stays known: revoke it instead";
        return this.swapKept("passes", edit.pass, edit, "pass");
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
      const { outsiders, guests, passes } = edit.to ?? {};
      if (!outsiders || !guests || passes === undefined)
        return unlawful("the site has a ceiling for outsiders, one for guests, and a yes or no for passes");
      this.document = { ...this.document, ceilings: { outsiders, guests, passes } };
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
