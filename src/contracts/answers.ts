/** What the JSON endpoints answer with. */
import type { Ability, AbilitySet, Level } from "../core/access/abilities.ts";
import type { SubjectClass } from "../core/access/accessIndex.ts";
import type { Fence, Grant, PageState, PlaceKind, Stance } from "../core/access/document.ts";
import type { Edit } from "../core/access/edits.ts";
import type { Refusal } from "../core/access/judge.ts";
import type { RippleEntry } from "../core/access/ripple.ts";
import type { PageBody } from "../core/content/body.ts";

export interface GridCell {
  /** What all of them have, as a mask. */
  set: AbilitySet;
  /** The level this is exactly, or null for a custom mix. */
  level: Level | null;
  /** How many have more than that. */
  more: number;
  /** Whether a rule standing on this very place names them. */
  here: boolean;
  /** Whether any of them oversees the place. */
  oversight: boolean;
}

export interface GridRow {
  id: string;
  /** Row of the place above, -1 for the site. */
  parent: number;
  depth: number;
  kind: PlaceKind;
  /** Empty for a gap: a place above something one may see, that one may not see itself. */
  title: string;
  state: PageState;
  fresh: boolean;
  fences: ("read" | "write")[];
  /** Whether grants stand on the place itself. */
  rules: boolean;
  /** Who outside can read it: the public or a pass holder, or at least one guest. */
  outside: "public" | "guests" | "none";
  /** Whether the asker may change rules here. */
  editable: boolean;
  /** How many places below are not in this answer: the row is opened to get them. */
  unsent: number;
  cells: (GridCell | null)[] | null;
}

export interface GridColumn {
  key: string;
  name: string;
  /** How many people the column stands for. */
  people: number;
  /** Whether a level can be chosen in it: there is a principal behind it. */
  settable: boolean;
  /** The highest level that can be chosen. */
  most: Level;
}

export interface Grid {
  seq: number;
  columns: GridColumn[];
  rows: GridRow[];
  /** How many places the asker may see in all. */
  places: number;
}

/** Groups and people of a name, whom rules and columns can name: the first few. */
export interface FoundPeople {
  groups: { id: string; name: string; people: number }[];
  people: { id: string; name: string; kind: "member" | "guest"; groups: string[] }[];
}

export interface RippleLine {
  class: SubjectClass;
  who: string[];
  where: { id: string; title: string }[];
  /** Places counted, not named. */
  hidden: number;
  before: string;
  after: string;
  gains: string[];
  losses: string[];
  oversight: RippleEntry["oversight"];
}

export interface RippleView {
  empty: boolean;
  /** One sentence for each class of subjects that the change touches, outsiders first. */
  summary: { class: SubjectClass; text: string }[];
  lines: RippleLine[];
  pledges: { breaks: { pledge: string; why: string; witness: string; place: string }[]; mends: string[] };
  closedToAll: string[];
}

export interface Preview {
  seen: string;
  ripple: RippleView;
  refusals: (Refusal & { title: string })[];
  steppingIn: boolean;
  /** Cells that would change, by row and column. */
  cells: { place: string; column: string; before: GridCell; after: GridCell }[];
}

export interface WhyAnswer {
  place: { id: string; title: string };
  /** Whom the explanation is about; for a column of many, one who has no more than all have. */
  who: string;
  /** "for example" note where one stands for many. */
  stands: string;
  level: string;
  ability: Ability;
  answer: string;
  steps: { text: string; place: string | null }[];
  /** Every ability, and whether the subject has it here. */
  abilities: { ability: Ability; has: boolean }[];
  oversight: string;
}

export interface SlipPerson {
  /** Column key to ask *why* with. */
  column: string;
  name: string;
  kind: "public" | "pass" | "guest" | "member";
  level: string;
  steps: number;
  oversight: boolean;
}

export interface Slip {
  id: string;
  title: string;
  kind: PlaceKind;
  state: PageState;
  path: string[];
  /** Reader address, where there is one for the asker. */
  address: string | null;
  mayWrite: boolean;
  mayAdd: boolean;
  /** They oversee the page and cannot read it: stepping in opens it. */
  mayStepIn: boolean;
  knowsOthers: boolean;
  people: SlipPerson[];
  rules: {
    stance: Stance;
    /** `most`: the highest level that can be given to whom it names. */
    grants: { grant: Grant; text: string; who: string; ended: boolean; most: Level }[];
    fences: { fence: Fence; text: string; names: string[] }[];
    above: { place: string; text: string; cutOff: boolean }[];
  };
  life: {
    owner: string | null;
    tags: string[];
    started: string | null;
    published: string | null;
    /** When it goes live by itself, and why it did not although that instant has passed. */
    due: { at: string; problem: string | null } | null;
    changed: string | null;
    versions: { name: string; title: string; at: string; author: string; note: string }[];
    views30: number | null;
    lastChange: { seq: number; at: string; who: string } | null;
  };
}

export interface LedgerLine {
  seq: number;
  at: string;
  who: string;
  act: string;
  what: { place: string | null; title: string; text: string }[];
  note: string;
  ripple: RippleView | null;
  steppingIn: boolean;
  takesBack: number | null;
  takenBackBy: number | null;
  /** Whether there is something to take back that was not yet. */
  canTakeBack: boolean;
  hash: string;
}

export interface LedgerPage {
  lines: LedgerLine[];
  /** Number to continue before, or null at the end. */
  next: number | null;
  total: number;
  makers: { id: string; name: string }[];
  siteKeeper: boolean;
}

export interface ProposedChange {
  edits: Edit[];
  /** What it does, one sentence for each edit. */
  sentences: string[];
  /** What else it does, besides what was wished. */
  besides: string;
}

export interface ProposalView {
  best: ProposedChange | null;
  others: ProposedChange[];
  /** People who keep what they have because they oversee the place. */
  exceptions: string[];
  alreadySo: boolean;
  /** Why nothing achieves the wish. */
  reason: string;
}

/** Words that are typed and in no version: they belong to a person, a page and a tab. */
export interface KeptWords {
  title: string;
  body: PageBody;
  /** Version they were written on, as "2.1". */
  base: string;
  tab: string;
  /** Grows with each change in that tab. */
  rev: number;
}

/** Kept words that are not needed any more, up to a change. */
export interface Spent {
  tab: string;
  rev: number;
}

export interface WorkingPage {
  id: string;
  title: string;
  body: PageBody;
  /** Version these words are, as "2.1". */
  version: string;
  liveVersion: string | null;
  state: PageState;
  savedBy: string;
  savedAt: string;
  mayPublish: boolean;
  /** Words of the writer's that are typed and not saved as a version, of each tab they were typed in. */
  buffers: KeptWords[];
  /** When it goes live by itself, and why it did not although that instant has passed. */
  due: { at: string; problem: string | null } | null;
  address: string;
  above: string;
}

export interface PublishSheet {
  /** What publishing changes in access; null where the page is live already. */
  preview: Preview | null;
  readers: { public: boolean; passes: number; guests: string[]; members: number };
  /** Links that some of those readers cannot follow: the title of the page and how many of them. */
  deadLinks: { title: string; readers: number; outside: boolean }[];
}

/** A page or space found by words of its title. */
/** One page of what a search found. */
export interface FoundPages {
  /** How many are ranked; `more` says that there are others beyond these. */
  total: number;
  more: boolean;
  pages: number;
  /** Snippets hold the matching words between the characters U+0001 and U+0002. */
  hits: (FoundPlace & { snippet: string })[];
}

export interface FoundPlace extends ReaderLink {
  kind: "space" | "page" | "bulletin";
  /** Empty where the asker may not know of it. */
  space: string;
  state: string;
}

export interface ReaderLink {
  title: string;
  address: string;
  id: string;
}

/** A token as it is listed: never the token itself. */
export interface TokenView {
  id: string;
  name: string;
  scopes: string[];
  madeBy: string;
  madeAt: string;
  until: string | null;
  usedAt: string | null;
  withdrawnAt: string | null;
}

/** What bringing in an access document would do. Without errors and without a preview there is nothing to change. */
export interface DocumentPlan {
  errors: { path: string; message: string }[];
  sentences: string[];
  preview: Preview | null;
}
