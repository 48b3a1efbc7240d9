/** Long work: ordered, shown while it runs, stopped, gone on with. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
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
import { FLAG_KINDS, type FlagKind, type Seq } from "../core/access/model/index.ts";
import { ARRIVALS, type Arrival, type Below, LIFE_ACTS, type LifeActName } from "../core/lifecycle/index.ts";
import { PERIOD_LIMITS } from "../core/review/index.ts";
import { LIMITS } from "../core/words.ts";
import { AreTags, HasWords, MayBeAbsent } from "./checks.ts";
import { declare, json, nothing } from "./declare.ts";
import type { ActSheet } from "./life.ts";
import { PagesFilter } from "./pages.ts";
import { ActingBody } from "./rules.ts";

/** So many places at most in one job. */
export const MOST_IN_JOB = 20_000;
/** So many named one by one; more are meant by a filter. */
export const MOST_NAMED_IN_JOB = 2_000;

/** What is set or said of each alike, besides the acts of a page's life. */
export const MARKS = ["tag", "readiness", "period", "flag"] as const;

/** What is done to each of many places: an act, or working marks set alike. */
export class ManyBody {
  @IsIn([...LIFE_ACTS, ...MARKS]) act!: LifeActName | (typeof MARKS)[number];
  /** Which: named, or all that fit a filter. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_NAMED_IN_JOB)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  places?: string[];
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => PagesFilter) filter?: PagesFilter;
  @MayBeAbsent() @IsIn(["along", "handUp", "stay"]) below?: Below;
  @MayBeAbsent() @IsString() @MaxLength(64) to?: string;
  @MayBeAbsent() @IsIn(ARRIVALS) arrive?: Arrival;
  @MayBeAbsent() @IsBoolean() back?: boolean;
  @MayBeAbsent() @IsInt() @Min(0) @Max(1_000_000) pages?: number;
  /** Tags added and taken away. */
  @MayBeAbsent() @IsArray() @ArrayMaxSize(20) @AreTags() add?: string[];
  @MayBeAbsent() @IsArray() @ArrayMaxSize(20) @AreTags() remove?: string[];
  /** A word of readiness; null: none. */
  @IsOptional() @IsString() @MaxLength(40) readiness?: string | null;
  /** Days of a review period; null: as its space has it. */
  @IsOptional() @IsInt() @Min(PERIOD_LIMITS.least) @Max(PERIOD_LIMITS.most) period?: number | null;
  /** Of a flag: its kind, and what is wrong. */
  @MayBeAbsent() @IsIn(FLAG_KINDS) kind?: FlagKind;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) words?: string;
}

export class OrderJobBody extends ActingBody {
  @IsObject() @ValidateNested() @Type(() => ManyBody) order!: ManyBody;
  /** How many it was shown for: more that came to fit meanwhile are not taken along unseen. */
  @IsInt() @Min(1) @Max(1_000_000) count!: number;
}

export class LookManyBody {
  @IsObject() @ValidateNested() @Type(() => ManyBody) order!: ManyBody;
}

/** Taking a job back is judged entry by entry when it is done: what that may need is said beforehand. */
export class TakeBackJobBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
}

export interface ManySheet extends ActSheet {
  count: number;
}

export interface JobView {
  id: string;
  /** "Archive 312 pages". */
  title: string;
  by: string;
  state: "waiting" | "running" | "stopped" | "done";
  problem: string | null;
  total: number;
  done: number;
  skipped: number;
  startedAt: string;
  endedAt: string | null;
  mayStop: boolean;
  /** It stopped and can go on. */
  mayGoOn: boolean;
  /** Entries of the ledger it made, the newest first. */
  entries: Seq[];
  mayTakeBack: boolean;
  /** What was skipped and why, the first few. */
  skippedItems: { id: string; title: string; message: string }[];
}

export class JobsQuery {
  @MayBeAbsent() @Matches(/^yes$/) mine?: "yes";
}

export interface JobList {
  jobs: JobView[];
}

export interface Ordered {
  id: string;
}

export const lookAtMany = declare({
  method: "POST",
  path: "/api/jobs/look",
  who: "member",
  says: "What an act on many pages would do in all; changes nothing.",
  body: LookManyBody,
  answer: json<ManySheet>("ManySheet"),
});

export const orderJob = declare({
  method: "POST",
  path: "/api/jobs",
  who: "member",
  says: "Does an act to many pages, batch by batch, each its own entry of the ledger.",
  body: OrderJobBody,
  answer: json<Ordered>("Ordered"),
});

export const listJobs = declare({
  method: "GET",
  path: "/api/jobs",
  who: "member",
  says: "Jobs that the asker started, or (site keepers) all of them, the newest first.",
  query: JobsQuery,
  answer: json<JobList>("JobList"),
});

export const readJob = declare({
  method: "GET",
  path: "/api/jobs/{id}",
  who: "member",
  says: "How far a job is, and what it skipped.",
  answer: json<JobView>("JobView"),
});

export const stopJob = declare({
  method: "POST",
  path: "/api/jobs/{id}/stop",
  who: "member",
  says: "Stops a job after the batch it is at.",
  answer: nothing,
});

export const goOnWithJob = declare({
  method: "POST",
  path: "/api/jobs/{id}/go-on",
  who: "member",
  says: "Goes on with a job that was stopped.",
  answer: nothing,
});

export const takeBackJob = declare({
  method: "POST",
  path: "/api/jobs/{id}/take-back",
  who: "member",
  says: "Takes all entries of a job back, the newest first, as a job of its own.",
  body: TakeBackJobBody,
  answer: json<Ordered>("Ordered"),
});
