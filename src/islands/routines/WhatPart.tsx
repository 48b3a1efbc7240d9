/** What a routine does, and what else that takes: a kind of flag, a tag, a group, words. */
import { FLAG_KINDS, FLAG_WORDS, type FlagKind } from "../../core/access/model/index.ts";
import { type ActionName, isAboutGuests, type RoutineAction } from "../../core/routines/index.ts";
import { LIMITS } from "../../core/words.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { findGroups } from "../shared/people.ts";
import { Options } from "../shared/SentencePart.tsx";
import type { Draft } from "./draft.ts";
import styles from "./routines.module.css";

const WHAT: readonly [ActionName, string][] = [
  ["flag", "raise a flag"],
  ["clearFlag", "clear a flag"],
  ["addTag", "add a tag"],
  ["removeTag", "take a tag away"],
  ["tellOwner", "tell the owner"],
  ["tellGroup", "tell a group"],
  ["archive", "archive"],
  ["bin", "put in the bin"],
  ["erase", "erase what the bin has kept long enough"],
];

/** What an action is called in the line of parts. */
export function whatWords(action: RoutineAction, names: Draft["names"]): string {
  switch (action.what) {
    case "flag":
      return `raise “${FLAG_WORDS[action.kind]}”`;
    case "clearFlag":
      return `clear “${FLAG_WORDS[action.kind]}”`;
    case "addTag":
      return `add the tag ${action.tag || "…"}`;
    case "removeTag":
      return `take away the tag ${action.tag || "…"}`;
    case "tellGroup":
      return `tell ${names[action.group] ?? "a group"}`;
    case "tellHosts":
      return "tell whoever brought them in";
    default:
      return WHAT.find(([what]) => what === action.what)?.[1] ?? "";
  }
}

/** Another action, with what the one before said as far as it takes that. */
function turned(action: RoutineAction, what: ActionName): RoutineAction {
  const before = action as { note?: string; kind?: FlagKind; tag?: string; group?: string };
  const note = before.note ?? "";
  switch (what) {
    case "flag":
      return { what, kind: before.kind ?? "outOfDate", note };
    case "clearFlag":
      return { what, kind: before.kind ?? "outOfDate" };
    case "addTag":
    case "removeTag":
      return { what, tag: before.tag ?? "" };
    case "tellGroup":
      return { what, group: before.group ?? "", note };
    case "tellOwner":
    case "tellHosts":
      return { what, note };
    default:
      return { what };
  }
}

export function WhatPart({ draft, onChange }: { draft: Draft; onChange(change: Partial<Draft>): void }) {
  const { action } = draft;
  const put = (change: Partial<RoutineAction>, names: Record<string, string> = {}) =>
    onChange({ action: { ...action, ...change } as RoutineAction, names: { ...draft.names, ...names } });
  return (
    <div className={styles.what}>
      {!isAboutGuests(draft.which) && <Options options={WHAT} onChoose={(what) => onChange({ action: turned(action, what) })} />}
      {"kind" in action && (
        <fieldset className={styles.kinds}>
          <legend>Of what kind</legend>
          {FLAG_KINDS.map((kind) => (
            <label key={kind}>
              <input type="radio" name="kind" checked={action.kind === kind} onChange={() => put({ kind })} /> {FLAG_WORDS[kind]}
            </label>
          ))}
        </fieldset>
      )}
      {"tag" in action && <TextField label="Which tag" value={action.tag} onChange={(tag) => put({ tag })} most={40} />}
      {"group" in action && (
        <Picker
          label="Which group"
          chosen={
            action.group
              ? { key: action.group, name: draft.names[action.group] ?? "", note: "", principal: { group: action.group }, isGuest: false }
              : null
          }
          find={findGroups}
          onChoose={({ principal, name }) => "group" in principal && put({ group: principal.group }, { [principal.group]: name })}
        />
      )}
      {"note" in action && (
        <TextField label="What is said with it" value={action.note} onChange={(note) => put({ note })} most={LIMITS.note} />
      )}
    </div>
  );
}
