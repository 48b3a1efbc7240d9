/**
 * Edits: the smallest changes to an access document. The tray holds them, the ledger keeps them, taking back inverts
 * them. An edit names what it replaces by value, so that a change made meanwhile by somebody else is noticed.
 */
import { maskOf } from "./abilities.ts";
import {
  type AccessDocument,
  type Fence,
  type Grant,
  type PageState,
  type Place,
  principalKey,
  type Stance,
  type StateBefore,
} from "./document.ts";

export interface StateMark {
  state: PageState;
  was?: StateBefore;
}

export type Edit =
  | { kind: "grant"; place: string; remove?: Grant; put?: Grant }
  | { kind: "fence"; place: string; remove?: Fence; put?: Fence }
  | { kind: "stance"; place: string; from: Stance; to: Stance }
  | { kind: "state"; place: string; from: StateMark; to: StateMark }
  | { kind: "start"; place: string; parent: string; as: "page" | "bulletin"; owner: string };

/** An edit that no longer fits the document it is applied to. */
export interface EditConflict {
  edit: Edit;
  /** What was changed meanwhile, for a person to read. */
  message: string;
}

export type Applied = { ok: true; document: AccessDocument } | { ok: false; conflicts: EditConflict[] };

export const grantKey = (grant: Grant): string =>
  `${principalKey(grant.to)}|${maskOf(grant.abilities)}|${grant.until ?? ""}|${grant.draft === true}`;

export const fenceKey = (fence: Fence): string => `${fence.kind}|${fence.admits.map(principalKey).sort().join(",")}`;

/** Swaps one item of a list, found by key; null if the one to remove is not there or the one to put already is. */
function swap<T>(list: readonly T[], key: (item: T) => string, remove: T | undefined, put: T | undefined): T[] | null {
  const at = remove === undefined ? list.length : list.findIndex((item) => key(item) === key(remove));
  if (at < 0) return null;
  const rest = list.filter((_, i) => i !== at);
  if (put === undefined) return rest;
  if (rest.some((item) => key(item) === key(put))) return null;
  return [...rest.slice(0, at), put, ...rest.slice(at)];
}

const sameMark = (place: Place, mark: StateMark): boolean =>
  place.state === mark.state && (place.was ?? undefined) === (mark.was ?? undefined);

/** One place with an edit made, or the sentence that says why the edit does not fit any more. */
function editPlace(place: Place, edit: Exclude<Edit, { kind: "start" }>): Place | string {
  switch (edit.kind) {
    case "grant": {
      const grants = swap(place.grants, grantKey, edit.remove, edit.put);
      if (grants) return { ...place, grants };
      return edit.remove ? "the grant it replaces was changed or taken away meanwhile" : "this very grant stands there already";
    }
    case "fence": {
      const fences = swap(place.fences, fenceKey, edit.remove, edit.put);
      if (fences) return { ...place, fences };
      return edit.remove ? "the fence it replaces was changed or taken away meanwhile" : "this very fence stands there already";
    }
    case "stance":
      return place.stance === edit.from ? { ...place, stance: edit.to } : "the stance was changed meanwhile";
    case "state": {
      if (!sameMark(place, edit.from)) return `the state was changed meanwhile: it is ${place.state} now`;
      const { was: _, ...rest } = place;
      return { ...rest, state: edit.to.state, ...(edit.to.was === undefined ? {} : { was: edit.to.was }) };
    }
  }
}

/**
 * Applies edits in order to a document, all or none. Returns the new document (the old one is untouched) or every edit
 * that does not fit, with the reason.
 */
export function applyEdits(document: AccessDocument, edits: readonly Edit[]): Applied {
  const places = new Map(document.places.map((place) => [place.id, place]));
  const conflicts: EditConflict[] = [];
  for (const edit of edits) {
    const place = places.get(edit.place);
    if (edit.kind === "start") {
      if (place) conflicts.push({ edit, message: "a place with this id is there already" });
      else if (!places.has(edit.parent)) conflicts.push({ edit, message: "the place above is gone" });
      else places.set(edit.place, startedPlace(edit));
      continue;
    }
    const edited = place ? editPlace(place, edit) : "the place is gone";
    if (typeof edited === "string") conflicts.push({ edit, message: edited });
    else places.set(edit.place, edited);
  }
  if (conflicts.length > 0) return { ok: false, conflicts };
  return { ok: true, document: { ...document, places: [...places.values()] } };
}

const startedPlace = (edit: Extract<Edit, { kind: "start" }>): Place => ({
  id: edit.place,
  kind: edit.as,
  parent: edit.parent,
  state: "draft",
  stance: "follow",
  owner: edit.owner,
  tags: [],
  grants: [],
  fences: [],
});

/** The edits that undo these, in the order in which to make them. A page that was started goes to the bin: nothing is lost. */
export const invertEdits = (edits: readonly Edit[]): Edit[] => [...edits].reverse().map(inverse);

/** What an edit removed is put back, and what it put is removed. */
const swapped = <T>({ put, remove }: { put?: T; remove?: T }) => ({ ...(put ? { remove: put } : {}), ...(remove ? { put: remove } : {}) });

function inverse(edit: Edit): Edit {
  switch (edit.kind) {
    case "grant":
      return { kind: "grant", place: edit.place, ...swapped(edit) };
    case "fence":
      return { kind: "fence", place: edit.place, ...swapped(edit) };
    case "stance":
      return { ...edit, from: edit.to, to: edit.from };
    case "state":
      return { ...edit, from: edit.to, to: edit.from };
    case "start":
      return { kind: "state", place: edit.place, from: { state: "draft" }, to: { state: "binned", was: "draft" } };
  }
}

/** Whether an edit changes rules, and not only the life of a page. */
export const isRuleEdit = (edit: Edit): boolean => edit.kind === "grant" || edit.kind === "fence" || edit.kind === "stance";
