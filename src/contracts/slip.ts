/** The slip of a place, and why. */

import { ABILITIES, type Seq, VIEWPOINT } from "../core/access/model/index.ts";
import { declare, json } from "./declare.ts";
import "reflect-metadata";
import { IsIn, IsOptional, IsString, Matches, MaxLength } from "class-validator";
import type { Ability, Ceilings, Fence, Grant, Level, PageState, PlaceKind, SpaceSettings, Stance } from "../core/access/model/index.ts";
import type { LifeActName } from "../core/lifecycle/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsInstant, MayBeAbsent } from "./checks.ts";
import type { Links } from "./links.ts";
import type { Standing } from "./moving.ts";
import type { Named } from "./people.ts";
import type { Due } from "./writing.ts";

export class WhyQuery {
  @IsString() @MaxLength(64) place!: string;
  @Matches(VIEWPOINT) viewpoint!: string;
  @IsOptional() @IsIn([...ABILITIES]) ability?: Ability;
  /** As of this instant, behind or ahead; absent: now. */
  @MayBeAbsent() @IsInstant() at?: string;
}

export class SlipQuery {
  /** As of this instant, behind or ahead; absent: now. */
  @MayBeAbsent() @IsInstant() at?: string;
}

export class StepInBody {
  @IsString() @HasWords() @MaxLength(LIMITS.note) reason!: string;
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

/** Those who have the same at a place for the same reason. */
export interface WhoLine {
  /** Names the line when it is opened. */
  key: string;
  kind: "public" | "pass" | "guest" | "member";
  count: number;
  level: string;
  /** What they have, as a mask. */
  set: number;
  oversight: boolean;
  /** Why, in a sentence, and where the rule stands, if the asker may know of that place. */
  through: string;
  place: string | null;
  /** Some of them by name. */
  some: string[];
}

export interface WhoPerson {
  /** Column key to ask *why* with. */
  viewpoint: string;
  name: string;
}

/** Who has something at a place, by why they have it, the outside first. */
export interface Who {
  lines: WhoLine[];
  outside: number;
  members: number;
  /** Those of the opened line, and how many more they are. */
  opened: { key: string; people: WhoPerson[]; more: number } | null;
}

export interface WhoMoved {
  outsiders: number;
  guests: number;
  members: number;
}

/** Who came to read a place and who ceased to, change by change, the newest first. */
export interface WhoHistory {
  changes: { at: string; seq: Seq; who: string; act: string; gained: WhoMoved; lost: WhoMoved }[];
  more: boolean;
}

export class WhoQuery extends SlipQuery {
  /** The line whose people are wanted. */
  @MayBeAbsent() @Matches(/^[\w-]{1,40}$/) open?: string;
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
  /** They may ask guests in to it. */
  mayAskIn: boolean;
  knowsOthers: boolean;
  /** As of when it is shown; null: as it is now. */
  asOf: string | null;
  rules: {
    stance: Stance;
    /** `most`: the highest level that can be given to whom it names. */
    /** `managers`: who fills the group it names without keeping the site. */
    grants: { grant: Grant; text: string; who: string; ended: boolean; most: Level; managers: string[] }[];
    fences: { fence: Fence; text: string; names: string[] }[];
    above: { place: string; text: string; cutOff: boolean }[];
    /** Of the site and of spaces: how far outsiders, guests and passes get at most. */
    ceilings: { own: Ceilings | null; site: Required<Ceilings>; mayChange: boolean } | null;
  };
  /** Acts that can be done to it by whoever asks. */
  acts: LifeActName[];
  life: {
    owner: { id: string; name: string } | null;
    mayHandOver: boolean;
    tags: string[];
    mayTag: boolean;
    readiness: string | null;
    /** Of a space, and of what is in it: the words it names readiness by. */
    readinessWords: string[];
    /** Of a space: how its pages stand; null for anything else. */
    arranged: "hand" | "name" | null;
    mayChangeSpace: boolean;
    /** Of a space, for whoever may change it: what it is called, how many of its pages the public reads, and where people land. */
    space: { settings: SpaceSettings; publicReads: number; landing: Named | null; landings: Named[] } | null;
    started: string | null;
    published: string | null;
    /** When it goes live by itself, and why it did not although that instant has passed. */
    due: Due | null;
    /** When it is archived by itself. */
    archives: Due | null;
    changed: string | null;
    versions: { name: string; title: string; at: string; author: string; note: string }[];
    views30: number | null;
    /** Where it stands among the pages beside it; null for what has no order by hand. */
    order: Standing | null;
    links: Links | null;
    lastChange: { seq: Seq; at: string; who: string } | null;
  };
}

/** When a stepping in ends. */
export interface Until {
  until: string;
}

export const readSlip = declare({
  method: "GET",
  path: "/api/places/{id}",
  who: "member",
  says: "One place: who has access, its rules, its life, as far as the asker may know.",
  query: SlipQuery,
  answer: json<Slip>("Slip"),
});

export const readWho = declare({
  method: "GET",
  path: "/api/places/{id}/who",
  who: "member",
  says: "Who has something at a place, by why they have it; for whoever may know others there.",
  query: WhoQuery,
  answer: json<Who>("Who"),
});

export const readWhoHistory = declare({
  method: "GET",
  path: "/api/places/{id}/who-history",
  who: "member",
  says: "Who came to read a place and who ceased to, by changes; for whoever may know others there.",
  answer: json<WhoHistory>("WhoHistory"),
});

export const stepIn = declare({
  method: "POST",
  path: "/api/places/{id}/step-in",
  who: "member",
  says: "Opens a page to somebody who oversees it and cannot read it, for 60 minutes.",
  body: StepInBody,
  answer: json<Until>("Until"),
});

export const readWhy = declare({
  method: "GET",
  path: "/api/why",
  who: "signedIn",
  says: "Why a viewpoint has what it has at a place.",
  query: WhyQuery,
  answer: json<WhyAnswer>("WhyAnswer"),
});
