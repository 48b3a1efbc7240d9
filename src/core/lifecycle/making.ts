/** A plan while it is made, and what one holds (see `plan.ts`). */
import type { AccessIndex, CompiledPlace } from "../access/index/index.ts";
import type { Edit, Instant } from "../access/model/index.ts";
import type { LifeFacts } from "./facts.ts";

/** Something that will be otherwise than before the page left, or that is said of it. */
export type Returning =
  /** It stands elsewhere: what it stood in is in the bin. */
  | { what: "elsewhere"; place: string; to: string }
  /** It was scheduled, and comes back as a draft. */
  | { what: "draft"; place: string }
  /** A page that was handed up when this one left: it comes back, or stays where that put it. */
  | { what: "handedUp"; place: string; under: string; comesBack: boolean }
  /** A page that was handed up and is elsewhere, or gone, by now. */
  | { what: "movedSince"; place: string; under: string }
  /** It was the landing page of its space; another is now. */
  | { what: "notLanding"; place: string; space: string }
  /** A pass that would work again: chosen, or withdrawn. */
  | { what: "pass"; pass: string; place: string; works: boolean };

/** Where a page is to stand: directly after another of its list, before them all (null), or at the end (absent). */
export interface Placing {
  place: string;
  after?: string | null;
}

/** Something that must be chosen before the act can be done. */
export type Choice =
  | { choose: "below"; options: readonly string[]; pages: string[] }
  | { choose: "landing"; space: string; candidates: string[] }
  | { choose: "destination"; pages: string[] }
  /** Live pages that were never approved in the space they go into: as drafts, or given in. */
  | { choose: "arrival"; pages: string[] };

/** Why an act cannot be done to one of the places at all. */
export interface Misfit {
  place: string;
  message: string;
}

export interface Plan {
  edits: Edit[];
  /** Edits that nobody asks for by themselves: what is handed up, goes along unseen, or is withdrawn. Judged by their outcome only. */
  follows: ReadonlySet<Edit>;
  /** Edits of states of pages below: needed abilities are asked only where they may be known of. */
  along: ReadonlySet<Edit>;
  placings: Placing[];
  choices: Choice[];
  misfits: Misfit[];
  /** What the act is done to, without what goes along. */
  places: string[];
  /** Pages below: those that go along, and those that are handed up. */
  below: { along: string[]; handedUp: string[] };
  /** Of a move: pages that arrive as drafts, since the space asks for approval. */
  arriving: string[];
  /** Of what comes back: what will be otherwise than before. */
  returning: Returning[];
}

/** A plan while it is made. */
export class Making implements Plan {
  edits: Edit[] = [];
  follows = new Set<Edit>();
  along = new Set<Edit>();
  placings: Placing[] = [];
  choices: Choice[] = [];
  misfits: Misfit[] = [];
  places: string[] = [];
  below: Plan["below"] = { along: [], handedUp: [] };
  arriving: string[] = [];
  returning: Returning[] = [];

  constructor(
    readonly index: AccessIndex,
    readonly facts: LifeFacts,
    readonly at: Instant,
  ) {}

  /** Adds an edit that follows from the act by itself. */
  follow(edit: Edit): void {
    this.edits.push(edit);
    this.follows.add(edit);
  }

  misfit(place: CompiledPlace, message: string): void {
    this.misfits.push({ place: place.place.id, message });
  }
}
