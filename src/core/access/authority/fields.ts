/**
 * Every field of what edits put and take away, with who may change it (access-model.md, 6a): a field that is not named here is
 * nobody's to set. A new field of a thing does not compile before it stands in this table.
 */
import type { Edit } from "../model/index.ts";

type Things = Extract<Edit, { put?: unknown }>;
type Kind = Things["kind"];
type KeysOf<T> = T extends unknown ? keyof T : never;
type FieldOf<K extends Kind> = KeysOf<NonNullable<Extract<Things, { kind: K }>["put"]>>;

/** The act of the edit itself; of guests: who moves their end, which nobody but a site keeper takes off; nobody, once it is there. */
export type FieldRule = "asTheEdit" | "endOfGuest" | "never";

export const FIELDS: { readonly [K in Kind]: Readonly<Record<FieldOf<K>, FieldRule>> } = {
  person: { id: "never", name: "asTheEdit", kind: "asTheEdit", status: "asTheEdit", until: "endOfGuest" },
  grant: { to: "asTheEdit", abilities: "asTheEdit", until: "endOfGuest", draft: "asTheEdit" },
  fence: { kind: "never", admits: "asTheEdit" },
  group: { id: "never", name: "asTheEdit" },
  member: { group: "asTheEdit", person: "asTheEdit" },
  pass: { id: "never", place: "never", below: "asTheEdit", until: "asTheEdit", revoked: "asTheEdit" },
  pledge: { id: "never", who: "asTheEdit", rule: "asTheEdit", ability: "asTheEdit", where: "asTheEdit", why: "asTheEdit" },
  flag: {
    kind: "asTheEdit",
    by: "asTheEdit",
    at: "asTheEdit",
    due: "asTheEdit",
    to: "asTheEdit",
    note: "asTheEdit",
    quote: "asTheEdit",
    outcome: "asTheEdit",
    endedBy: "asTheEdit",
    endedAt: "asTheEdit",
    reason: "asTheEdit",
  },
  settings: {
    name: "asTheEdit",
    address: "asTheEdit",
    purpose: "asTheEdit",
    history: "asTheEdit",
    indexed: "asTheEdit",
    approval: "asTheEdit",
    review: "asTheEdit",
    flags: "asTheEdit",
  },
  contents: { entries: "asTheEdit", rest: "asTheEdit" },
};

const hasFields = (edit: Edit): edit is Things => edit.kind in FIELDS;

/** Fields in what an edit puts that nobody may set; one that is there already and never changes, where it would. */
export function forbiddenFields(edit: Edit): string[] {
  if (!hasFields(edit) || !edit.put) return [];
  const rules = FIELDS[edit.kind] as Readonly<Record<string, FieldRule>>;
  const [put, remove] = [edit.put, edit.remove] as [Record<string, unknown>, Record<string, unknown> | undefined];
  return Object.keys(put).filter((name) => {
    const rule = Object.hasOwn(rules, name) ? rules[name] : undefined;
    return rule === undefined || (rule === "never" && remove !== undefined && remove[name] !== put[name]);
  });
}

/** Whether an edit takes off the end of something that has one. */
export function takesEndOff(edit: Extract<Edit, { kind: "person" | "grant" }>): boolean {
  return edit.remove?.until != null && edit.put !== undefined && edit.put.until == null;
}
