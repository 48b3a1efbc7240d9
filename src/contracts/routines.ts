/** Routines: what Tesoro does by itself, to which pages, when, as whom; what it would do today, and what it did. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from "class-validator";
import { FLAG_KINDS, type FlagKind, type PageState } from "../core/access/model/index.ts";
import { ACTION_NAMES, type ActionName, ROUTINE_LIMITS, type Routine, type RoutineFilter } from "../core/routines/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsLine, IsTag, MayBeAbsent } from "./checks.ts";
import { declare, json, NoQuery, nothing } from "./declare.ts";
import type { Named } from "./people.ts";

/** So many routines the site has, and each space. */
export const MOST_ROUTINES = 100;
/** So many pages are told by name of what it would touch. */
export const PREVIEW_ROWS = 100;
/** So many runs are shown of one routine, and so many times ahead. */
export const RUNS_SHOWN = 24;
export const TIMES_SHOWN = 5;

const STATES = ["draft", "scheduled", "live", "archived", "binned"] as const satisfies readonly PageState[];
const Days =
  (least: 0 | 1): PropertyDecorator =>
  (target, name) => {
    MayBeAbsent()(target, name);
    IsInt()(target, name);
    Min(least)(target, name);
    Max(ROUTINE_LIMITS.days)(target, name);
  };

/** Which pages, or which guests: one of both. */
export class WhichBody {
  @MayBeAbsent() @IsIn(STATES) state?: PageState;
  @MayBeAbsent()
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(ROUTINE_LIMITS.spaces)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  spaces?: string[];
  @MayBeAbsent() @IsString() @MaxLength(64) branch?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) owner?: string;
  @MayBeAbsent() @IsTag() tag?: string;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(40) readiness?: string;
  @MayBeAbsent() @IsIn(["public", "guests", "any", "none"]) outside?: NonNullable<RoutineFilter["outside"]>;
  @MayBeAbsent() @IsIn(["yes", "no"]) flagged?: "yes" | "no";
  @Days(1) unchanged?: number;
  @Days(1) unconfirmed?: number;
  @Days(1) unread?: number;
  @Days(1) changed?: number;
  @Days(1) confirmed?: number;
  @Days(1) read?: number;
  @Days(0) due?: number;
  @Days(1) unusedGuests?: number;
}

/** What is done: what else it takes follows from it. */
export class ActionBody {
  @IsIn(ACTION_NAMES) what!: ActionName;
  @MayBeAbsent() @IsIn(FLAG_KINDS) kind?: FlagKind;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) note?: string;
  @MayBeAbsent() @IsTag() tag?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) group?: string;
}

export class RoutineBody {
  /** The space it is confined to; null: the whole site. */
  @IsOptional() @IsString() @MaxLength(64) space!: string | null;
  @IsObject() @ValidateNested() @Type(() => WhichBody) which!: WhichBody;
  @IsObject() @ValidateNested() @Type(() => ActionBody) action!: ActionBody;
  @IsString() @MaxLength(200) cron!: string;
  @IsString() @MaxLength(64) zone!: string;
  @IsInt() @Min(1) @Max(ROUTINE_LIMITS.most) most!: number;
  /** As whom it runs. */
  @IsString() @MaxLength(64) as!: string;
}

export class LookAtRoutineBody extends RoutineBody {
  /** The routine it is about, where it is kept already. */
  @MayBeAbsent() @IsString() @MaxLength(64) kept?: string;
}

export class SaveRoutineBody extends RoutineBody {
  // It stands in the subject of letters: one line.
  @IsLine(LIMITS.name) @HasWords() name!: string;
  /** Whether it runs by itself from now on. */
  @IsBoolean() on!: boolean;
}

export class ChangeRoutineBody extends SaveRoutineBody {
  /** As it was when it was looked at. */
  @IsInt() @Min(1) @Max(2_000_000_000) rev!: number;
}

export class SwitchRoutineBody {
  @IsBoolean() on!: boolean;
  @IsInt() @Min(1) @Max(2_000_000_000) rev!: number;
}

/** One page, or guest, and why it fits. */
export interface TouchedLine {
  id: string;
  title: string;
  /** Title of its space; of a guest, who brought them in. */
  where: string;
  reasons: string[];
}

/** What a routine would do at this moment. */
export interface RoutinePreview {
  /** The whole of it in one sentence, and what of it cannot be taken back. */
  sentence: string;
  final: string | null;
  /** What is wrong with it, as it stands: then nothing else is told. */
  troubles: string[];
  /** Its next times. */
  times: string[];
  /** How many fit; of these it would touch so many in one run. */
  fits: number;
  touches: number;
  /** Left as they are: since nothing is to be done to them, or since the person it runs as may not. */
  leftAlone: number;
  notAllowed: number;
  /** Beyond the most it takes in one run. */
  beyond: number;
  /** The first of what it would touch; how many of those are not for the asker to know by name. */
  rows: TouchedLine[];
  hidden: number;
}

export interface RunLine {
  id: string;
  /** The time it was for, and when it began. */
  slot: string;
  at: string;
  /** Who ran it by hand; null: it was its time. */
  by: string | null;
  state: "waiting" | "running" | "stopped" | "done" | "failed";
  problem: string | null;
  touched: number;
  skipped: number;
  waiting: number;
  beyond: number;
  /** How many more were left as they are than are listed with why. */
  unlisted: number;
  /** Its job, for taking it back and going on with it. */
  job: string | null;
}

export interface RoutineRow {
  id: string;
  name: string;
  rev: number;
  space: Named | null;
  which: Routine["which"];
  action: Routine["action"];
  cron: string;
  zone: string;
  most: number;
  as: Named;
  on: boolean;
  sentence: string;
  final: string | null;
  times: string[];
  /** Why it will not run as things stand. */
  problem: string | null;
  /** Names of what it names by id. */
  names: Record<string, string>;
  /** The newest first. */
  runs: RunLine[];
  /** Whether the asker may change it, switch it on and run it; without that, they may switch it off. */
  mayChange: boolean;
}

export interface RoutineList {
  routines: RoutineRow[];
  /** Where the asker may make some: the site (no id) and spaces. */
  scopes: { id: string | null; name: string }[];
  /** Whether somebody else may be chosen for it to run as. */
  mayChooseAs: boolean;
  me: Named;
}

/** A run, page by page. */
export interface RunView extends RunLine {
  routine: string;
  name: string;
  sentence: string;
  mayStop: boolean;
  mayTakeBack: boolean;
  mayGoOn: boolean;
  final: string | null;
  rows: { id: string; title: string; state: "waiting" | "done" | "skipped"; message: string }[];
  /** How many rows there are that are not shown, or not for the asker to know. */
  more: number;
  hidden: number;
}

export class RunQuery {
  @MayBeAbsent() @Type(() => Number) @IsInt() @Min(0) @Max(1_000_000) from?: number;
}

export const listRoutines = declare({
  method: "GET",
  path: "/api/routines",
  who: "member",
  says: "Routines of the spaces the asker keeps, or of the whole site, with their runs.",
  query: NoQuery,
  answer: json<RoutineList>("RoutineList"),
});

export const lookAtRoutine = declare({
  method: "POST",
  path: "/api/routines/look",
  who: "member",
  says: "What a routine would do at this moment, page by page, and when it would run next; changes nothing.",
  body: LookAtRoutineBody,
  answer: json<RoutinePreview>("RoutinePreview"),
});

export interface RoutineMade {
  id: string;
  rev: number;
}

export const makeRoutine = declare({
  method: "POST",
  path: "/api/routines",
  who: "member",
  says: "Makes a routine, switched on or off.",
  body: SaveRoutineBody,
  answer: json<RoutineMade>("RoutineMade"),
});

export const changeRoutine = declare({
  method: "POST",
  path: "/api/routines/{id}",
  who: "member",
  says: "Sets a routine otherwise.",
  body: ChangeRoutineBody,
  answer: json<RoutineMade>("RoutineMade"),
});

export const removeRoutine = declare({
  method: "DELETE",
  path: "/api/routines/{id}",
  who: "member",
  says: "Takes a routine away; its runs stay, and can still be taken back.",
  answer: nothing,
});

export const switchRoutine = declare({
  method: "POST",
  path: "/api/routines/{id}/switch",
  who: "member",
  says: "Switches a routine on or off.",
  body: SwitchRoutineBody,
  answer: json<RoutineMade>("RoutineMade"),
});

export class RunRoutineBody {
  @IsInt() @Min(1) @Max(2_000_000_000) rev!: number;
  /** A name for this asking, so that pressing twice runs it once. */
  @Matches(/^[\w-]{8,64}$/) once!: string;
}

export interface RunBegun {
  run: string;
}

export const runRoutine = declare({
  method: "POST",
  path: "/api/routines/{id}/run",
  who: "member",
  says: "Runs a routine now.",
  body: RunRoutineBody,
  answer: json<RunBegun>("RunBegun"),
});

export const readRun = declare({
  method: "GET",
  path: "/api/routine-runs/{id}",
  who: "member",
  says: "A run of a routine, page by page: what it touched, what it skipped and why.",
  query: RunQuery,
  answer: json<RunView>("RunView"),
});
