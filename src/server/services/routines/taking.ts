/** What a routine would take at a moment, pages or guests alike: with the reason each fits, and why others are left as they are. */
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { isAboutGuests, leftAlone, type PageFacts, type Routine, type RoutineAction, reasonsOf } from "../../../core/routines/index.ts";
import { type Access, mayNot } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { idleGuests } from "./idleGuests.ts";
import { doneBefore, factsOf } from "./pageFacts.ts";
import { type Looking, select } from "./selecting.ts";

export interface Taken {
  id: string;
  reasons: string[];
  /** Of a guest: who brought them in. */
  host?: string | null;
}

export interface Taking {
  fits: number;
  /** How many the action would be done to, and of those its person may not touch, in all. */
  todo: number;
  notAllowed: number;
  taken: Taken[];
  /** The first of what fits and is left as it is, with why. */
  spared: { id: string; why: string }[];
}

export interface Asked extends Pick<Routine, "which" | "action" | "most"> {
  /** Null: it is not kept yet. */
  routine: string | null;
  spaceId: string | null;
  as: CompiledSubject;
}

/** Why a person may not do an action to a page, or null where they may. */
export function mayNotTouch(access: Access, as: CompiledSubject, { what }: RoutineAction, page: PageFacts): string | null {
  const place = placeOf(access.index, page.id);
  if (!place) return "It is not there any more.";
  const is = (act: Parameters<typeof mayNot>[2]) => mayNot(access, as, act, place);
  switch (what) {
    case "flag":
      return is("raiseFlag");
    case "clearFlag":
      return is("settleFlag");
    case "addTag":
    case "removeTag":
      return is("tag");
    case "archive":
    case "bin":
      return is("retire");
    case "erase":
      return is("erase");
    default:
      return null;
  }
}

async function guestsTaken(tx: Tx, access: Access, asked: Asked, days: number): Promise<Taking> {
  const all = await idleGuests(tx, access, asked.as, days, asked.routine);
  const todo = all.filter(({ spared }) => spared === null);
  return {
    fits: all.length,
    todo: todo.length,
    notAllowed: 0,
    taken: todo.slice(0, asked.most).map(({ id, reason, host }) => ({ id, reasons: [reason], host })),
    spared: all.flatMap(({ id, spared }) => (spared === null ? [] : [{ id, why: spared }])).slice(0, 100),
  };
}

/** What it would take now; `told` bounds for how many the reasons are worked out. */
export async function takingOf(tx: Tx, access: Access, asked: Asked, told: number): Promise<Taking> {
  if (isAboutGuests(asked.which)) return guestsTaken(tx, access, asked, asked.which.unusedGuests);
  const looking: Looking = { ...asked, which: asked.which };
  const { which } = looking;
  const { ids, spared, ...counts } = await select(tx, access, looking);
  const named = ids.slice(0, told);
  const facts = await factsOf(tx, access, asked.as, [...named, ...spared]);
  const before = await doneBefore(tx, asked.routine, spared);
  return {
    ...counts,
    taken: ids.map((id, i) => {
      const page = i < named.length ? facts.get(id) : undefined;
      return { id, reasons: page ? (reasonsOf(page, which, access.at) ?? []) : [] };
    }),
    spared: spared.flatMap((id) => {
      const page = facts.get(id);
      const why = page && (leftAlone(asked.action, page, before(id), access.at) ?? mayNotTouch(access, asked.as, asked.action, page));
      return why ? [{ id, why }] : [];
    }),
  };
}
