/** What the parts of a desk go by, and how each of them says its rows. */
import type { AskedList } from "../../../contracts/asked.ts";
import { type DeskAct, type DeskHeading, type DeskMore, type DeskRow, ROWS_OF_KIND } from "../../../contracts/desk.ts";
import type { FindingsList } from "../../../contracts/findings.ts";
import type { ReviewQueue } from "../../../contracts/review.ts";
import type { CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import type { Access } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";

export interface Asking {
  tx: Tx;
  access: Access;
  me: CompiledSubject;
  who: string;
  keepsSite: boolean;
  /** Rows that are set aside: they stand on no desk until their time. */
  aside: ReadonlySet<string>;
  beside: Beside;
}

/** What other views tell of themselves, asked before: each in a snapshot of its own, which nobody waits for within another. */
export interface Beside {
  findings: FindingsList;
  asked: AskedList;
  queue: ReviewQueue;
  /** Null: still being worked out. */
  slow: Slow | null;
}

/** What takes its time on a large site. */
export interface Slow {
  breaking: DeskRow[];
  unused: { rows: DeskRow[]; total: number };
  idle: { rows: DeskRow[]; total: number };
}

/** What one part of the desk comes to. */
export interface Told {
  rows: DeskRow[];
  more?: DeskMore[];
}

export const NOTHING: Told = { rows: [] };
export const DAY = 86_400_000;

export const named = ({ place }: CompiledPlace): { id: string; name: string } => ({ id: place.id, name: place.title ?? "" });
export const titled = (place: CompiledPlace): string => `“${place.place.title ?? ""}”`;

export const go = (key: string, name: string, address: string): DeskAct => ({ key, name, how: { do: "go", address } });
export const slip = (id: string, tab: "rules" | "life" | "who" = "life"): string => `/grid?place=${encodeURIComponent(id)}&tab=${tab}`;

/** The first rows that are not set aside, so many of a kind; how many more there are, and where. */
export function firstOf(
  { aside, access, me }: Pick<Asking, "aside" | "access" | "me">,
  rows: readonly DeskRow[],
  rest: { heading: DeskHeading; words: string; address: string; beyond?: number },
): Told {
  // Whatever somebody holds of a page, by owning it too: what they may not know of is on no desk.
  const here = rows.filter(({ key, place }) => !aside.has(key) && (place === null || knowsPlace(access, me, place.id)));
  const { beyond = 0, ...more } = rest;
  const count = Math.max(0, here.length - ROWS_OF_KIND) + beyond;
  return { rows: here.slice(0, ROWS_OF_KIND), more: count > 0 ? [{ ...more, count }] : [] };
}
