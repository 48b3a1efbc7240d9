/** Findings: passages of live pages that outsiders can read and that look sensitive. */
import "reflect-metadata";
import { ArrayMaxSize, ArrayMinSize, ArrayUnique, IsArray, IsBoolean, IsIn, IsString, MaxLength } from "class-validator";
import { FINDING_KINDS, type FindingKind } from "../core/findings/index.ts";
import { LIMITS } from "../core/words.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, json, nothing } from "./declare.ts";
import type { Ordered } from "./jobs.ts";
import type { Named } from "./people.ts";

export class FindingsFilter {
  /** Absent: what nobody set aside. */
  @MayBeAbsent() @IsIn(["aside"]) show?: "aside";
  @MayBeAbsent() @IsIn(FINDING_KINDS) kind?: FindingKind;
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
}

export class FindingsQuery extends FindingsFilter {
  @MayBeAbsent() @IsString() @MaxLength(400) after?: string;
}

/** A find in a passage: where, in UTF-16 units of what is told of the passage. */
export interface MarkedFind {
  /** The same for the same words on the same page. */
  sign: string;
  kind: FindingKind;
  start: number;
  end: number;
  aside: { by: string; at: string; reason: string } | null;
}

/** A passage, or so much of it as stands around what was found. */
export interface FoundPassage {
  /** Which passage of the page, from 0. */
  nth: number;
  text: string;
  finds: MarkedFind[];
}

/** A page that outsiders read and that has findings. */
export interface FindingPage {
  id: string;
  title: string;
  path: string[];
  /** Who outside reads it. */
  readers: "public" | "passes";
  /** How many of each kind fit. */
  counts: Partial<Record<FindingKind, number>>;
  /** The passages, so many at most; null: the text is not open to the asker. */
  passages: FoundPassage[] | null;
  /** How many passages more there are. */
  more: number;
}

export interface FindingsList {
  rows: FindingPage[];
  next: string | null;
  /** Pages that fit. */
  total: number;
  /** Of every space, how many findings stand open and how many were set aside. */
  spaces: (Named & { open: number; aside: number })[];
  /** When the whole site was last looked through; null: it never was. */
  looked: string | null;
  /** A job that is under way. */
  job: { id: string; done: number; total: number } | null;
  /** Whether the house's own words changed after that. */
  wordsChanged: boolean;
  /** Whether the asker may have the whole site looked through. */
  mayLook: boolean;
}

/** A page's findings with the passages around them. */
export interface FindingsAround {
  passages: (FoundPassage & { gap: boolean })[];
}

/** So many findings are set aside at once. */
export const MOST_SET_ASIDE = 200;

export class SetAsideBody {
  @IsString() @MaxLength(64) place!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_SET_ASIDE)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  signs!: string[];
  /** False: not any more. */
  @IsBoolean() aside!: boolean;
  /** Why it may stand there. */
  @IsString() @MaxLength(LIMITS.note) reason!: string;
}

export const readFindings = declare({
  method: "GET",
  path: "/api/outside/findings",
  who: "member",
  says: "Pages outsiders read that have findings, among those whose rules the asker may see; passages where they may read the text.",
  query: FindingsQuery,
  answer: json<FindingsList>("FindingsList"),
});

export const readFindingsAround = declare({
  method: "GET",
  path: "/api/outside/findings/{id}",
  who: "member",
  says: "The findings of a page with three passages before and after each, for whoever may see its rules and read it.",
  answer: json<FindingsAround>("FindingsAround"),
});

export const setFindingsAside = declare({
  method: "POST",
  path: "/api/outside/findings/aside",
  who: "member",
  says: "Sets findings of a page aside with a reason, or not any more.",
  body: SetAsideBody,
  answer: nothing,
});

export const lookForFindings = declare({
  method: "POST",
  path: "/api/outside/findings/look",
  who: "member",
  says: "Looks through every live page for what looks sensitive, as a job; for site keepers, one at a time.",
  answer: json<Ordered>("Ordered"),
});
