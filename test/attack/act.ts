/** What an act of an attack is, and the questions about rights that acts are judged by (access-model.md, section 6a). */
import type { Ability, AccessDocument, Edit } from "../../src/core/access/model/index.ts";
import type { LifeAct } from "../../src/core/lifecycle/index.ts";
import { referenceOversight, referenceSet } from "../reference/reference.ts";
import type { Answer } from "../system/doors.ts";
import { type Actor, now, type Stage } from "./stage.ts";
import { placeIn, spaceIn, type World } from "./world.ts";

/** One act of a sequence, as it was drawn. */
export interface Step {
  act: string;
  who: Actor;
  /** Which page, which other person, which of several ways: each by a number. */
  on: number;
  other: number;
  way: number;
  /** What its maker loses between looking and doing; null: nothing. */
  lose: string | null;
}

/** An act in its world: by whom, on what. */
export interface Doing {
  stage: Stage;
  world: World;
  who: Actor;
  page: string;
  other: Actor;
  way: number;
  /** Called between looking and doing. */
  pause(): Promise<void>;
}

export interface Act {
  do(it: Doing): Promise<Answer>;
  /** Whether its maker may, by the rules right before it is done; null where that is not judged by rights. */
  may(it: Doing, document: AccessDocument): boolean | null;
}

const subjectOf = (who: Actor) => (who === "public" ? { public: true as const } : { person: who });

export const setOf = (document: AccessDocument, who: Actor, id: string): Ability[] =>
  placeIn(document, id) ? referenceSet(document, subjectOf(who), id, now()) : [];
export const has = (document: AccessDocument, who: Actor, id: string, ...abilities: Ability[]): boolean => {
  const set = setOf(document, who, id);
  return abilities.every((it) => set.includes(it));
};
export const oversees = (document: AccessDocument, who: Actor, id: string): boolean =>
  placeIn(document, id) !== undefined && referenceOversight(document, subjectOf(who), id, now());
export const keepsSite = (document: AccessDocument, who: Actor): boolean => {
  const site = document.places.find(({ kind }) => kind === "site");
  return site !== undefined && oversees(document, who, site.id);
};
export const owns = (document: AccessDocument, who: Actor, id: string): boolean => placeIn(document, id)?.owner === who;
export const knows = (document: AccessDocument, who: Actor, id: string): boolean =>
  setOf(document, who, id).length > 0 || oversees(document, who, id);
export const spaceIdIn = (document: AccessDocument, id: string): string => spaceIn(document, id)?.id ?? "";

/** By whom something is done, and what comes between looking and doing. */
export type Doer = Pick<Doing, "stage" | "who" | "pause">;

/** Looks by one address, then does what was seen by another. */
export async function lookThenDo(it: Doer, look: string, path: string, body: object, more: object = {}): Promise<Answer> {
  const looked = await it.stage.ask(it.who, "POST", look, body);
  if (looked.status !== 200) return looked;
  const told = JSON.parse(looked.text);
  await it.pause();
  const seen = told.preview?.seen ?? told.seen ?? "";
  return it.stage.ask(it.who, "POST", path, { ...body, note: "", seen, reason: "An attack.", ...more });
}

/** The same of edits and acts of a page's life, remembered by the world. */
export const change = async (it: Doing, edits: Edit[], acts: LifeAct[] = []): Promise<Answer> => noted(it, await changeOf(it, edits, acts));

/** The same, which nothing goes by later. */
export async function changeOf(it: Doer, edits: Edit[], acts: LifeAct[] = []): Promise<Answer> {
  const looked = await it.stage.ask(it.who, "POST", "preview", { edits, acts, columns: [] });
  if (looked.status !== 200) return looked;
  await it.pause();
  const { seen } = JSON.parse(looked.text);
  return it.stage.ask(it.who, "POST", "changes", { edits, acts, note: "", seen, reason: "An attack." });
}

/** Remembers the entry of the ledger that an answer tells of. */
export function noted(it: Doing, answer: Answer): Answer {
  if (answer.status === 200) {
    const { seq } = JSON.parse(answer.text);
    if (typeof seq === "number") it.world.entries.push(seq);
  }
  return answer;
}

/** The same of review, where pages that could not be settled are told of, each by itself. */
export function settled(it: Doing, answer: Answer): Answer {
  const isDone = answer.status !== 200 || JSON.parse(answer.text).done > 0;
  return isDone ? noted(it, answer) : { status: 403, text: answer.text };
}
