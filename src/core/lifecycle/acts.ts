/**
 * The acts on places as data (lifecycle.md, "States and acts"): what travels in the tray, the API and the ledger is the act
 * with its choices, never the edits it comes to.
 */
import { leadsTo, type PlaceKind, type StateAct, type StateMark } from "../access/model/index.ts";

/** Acts that are planned here. Publishing and schedules go by versions and have services of their own. */
export const LIFE_ACTS = ["takeDown", "archive", "unarchive", "bin", "restore", "erase", "move"] as const;
export type LifeActName = (typeof LIFE_ACTS)[number];

/** What becomes of the pages below: they go along, are handed up, or (coming back) stay where they are. */
export type Below = "along" | "handUp" | "stay";

/** How a live page arrives that a space has not approved: as a draft, or as one that is given in for approval. */
export const ARRIVALS = ["draft", "submit"] as const;
export type Arrival = (typeof ARRIVALS)[number];

/** An act on some places, with what was chosen. */
export interface LifeAct {
  act: LifeActName;
  /** Ids, each once; an act on one of them and on what stands in it are the same act once. */
  places: string[];
  below?: Below;
  /** Landing pages chosen where an act takes away the one there is. */
  landings?: { space: string; page: string }[];
  /** Where to: of moves; of what is restored and has no place to come back to. */
  to?: string;
  /** Of moves: the page there to stand directly after; null: before them all; absent: at the end. */
  after?: string | null;
  /** Of moves into a space that asks for approval: what becomes of live pages that were never approved there. */
  arrive?: Arrival;
  /** Coming back: whether pages that were handed up come back, too. */
  back?: boolean;
  /** Erasing: the number of pages that go, as it was typed. */
  pages?: number;
  /** Coming back: passes that may work again. Those that would and are not named are withdrawn. */
  passes?: string[];
}

/** The states an act may be done in, and what it is called. */
const ROWS: Record<LifeActName, { label: string; past: string; asks: readonly Below[] }> = {
  takeDown: { label: "Take down", past: "taken down", asks: [] },
  archive: { label: "Archive", past: "archived", asks: ["along", "handUp"] },
  unarchive: { label: "Unarchive", past: "unarchived", asks: ["along", "stay"] },
  bin: { label: "Bin", past: "binned", asks: ["along", "handUp"] },
  restore: { label: "Restore", past: "restored", asks: ["along", "stay"] },
  erase: { label: "Erase", past: "erased", asks: [] },
  move: { label: "Move", past: "moved", asks: [] },
};

export const labelOfAct = (act: LifeActName): string => ROWS[act].label;
export const pastOfAct = (act: LifeActName): string => ROWS[act].past;
/** What may be chosen of the pages below, the first for what is asked where nothing is. */
export const belowOf = (act: LifeActName): readonly Below[] => ROWS[act].asks;

/** Whether an act can be done to a thing of this kind in this state (whoever does it). */
export function actFits(act: LifeActName, kind: PlaceKind, mark: StateMark): boolean {
  if (kind === "site") return false;
  if (act === "erase") return mark.state === "binned";
  if (act === "move") return kind !== "space" && mark.state !== "binned";
  return leadsTo(act satisfies StateAct, kind, mark) !== null;
}

/** Acts that fit a thing of this kind in this state, in the order they are offered in. */
export const actsOn = (kind: PlaceKind, mark: StateMark): LifeActName[] => LIFE_ACTS.filter((act) => actFits(act, kind, mark));
