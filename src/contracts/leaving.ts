/** Seeing somebody off: what is theirs, to whom it goes, what that does; and putting somebody in another's place in rules. */
import "reflect-metadata";
import { Type } from "class-transformer";
import { ArrayMaxSize, IsArray, IsObject, IsOptional, IsString, MaxLength, ValidateNested } from "class-validator";
import type { Edit } from "../core/access/model/index.ts";
import type { Made, Preview } from "./change.ts";
import { IsInstant } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Named } from "./people.ts";
import { ActingBody } from "./rules.ts";

/** Something that is theirs, and that can go to somebody. */
export interface LeavingLine {
  key: string;
  /** "34 pages in Quay Operations". */
  words: string;
  /** The first few by name. */
  examples: string[];
}

export interface LeavingPerson extends Named {
  lines: LeavingLine[];
  /** Spaces that nobody else keeps, but for those who keep the site. */
  alone: Named[];
  /** They are suspended already. */
  suspended: boolean;
}

export const readLeaving = declare({
  method: "GET",
  path: "/api/people/{id}/leaving",
  who: "member",
  says: "What is somebody's and would be nobody's without them; nothing is changed.",
  answer: json<LeavingPerson>("LeavingPerson"),
});

class LineBody {
  @IsString() @MaxLength(100) key!: string;
  /** To whom; null: it stays as it is. */
  @IsOptional() @IsString() @MaxLength(64) to!: string | null;
}

export class LookAtLeavingBody {
  /** To whom everything goes that no line says otherwise of; null: it stays as it is. */
  @IsOptional() @IsString() @MaxLength(64) to!: string | null;
  @IsArray() @ArrayMaxSize(300) @IsObject({ each: true }) @ValidateNested({ each: true }) @Type(() => LineBody) lines!: LineBody[];
  /** Their last day; null: they are suspended now. */
  @IsOptional() @IsInstant() until!: string | null;
}

export class LeaveBody extends ActingBody {
  @IsOptional() @IsString() @MaxLength(64) to!: string | null;
  @IsArray() @ArrayMaxSize(300) @IsObject({ each: true }) @ValidateNested({ each: true }) @Type(() => LineBody) lines!: LineBody[];
  @IsOptional() @IsInstant() until!: string | null;
}

export const lookAtLeaving = declare({
  method: "POST",
  path: "/api/people/{id}/leaving/look",
  who: "member",
  says: "What seeing somebody off so would do; changes nothing.",
  body: LookAtLeavingBody,
  answer: json<Preview>("Preview"),
});

export const leave = declare({
  method: "POST",
  path: "/api/people/{id}/leaving",
  who: "member",
  says: "Hands on what is somebody's and suspends them, now or at their last day, as one change.",
  body: LeaveBody,
  answer: json<Made>("Made"),
});

export class ReplacingQuery {
  @IsString() @MaxLength(64) by!: string;
}

/** What puts somebody in another's place wherever rules name that one. */
export interface Replacing {
  edits: Edit[];
  /** What each edit does. */
  sentences: string[];
}

export const readReplacing = declare({
  method: "GET",
  path: "/api/people/{id}/replacing",
  who: "member",
  says: "The edits that put another person in somebody's place wherever rules, groups or pledges name them; nothing is changed.",
  query: ReplacingQuery,
  answer: json<Replacing>("Replacing"),
});

export class JoiningQuery {
  /** The other, who is here under the same address. */
  @IsString() @MaxLength(64) with!: string;
}

export const readJoining = declare({
  method: "GET",
  path: "/api/people/{id}/joining",
  who: "member",
  says: "The edits that join somebody with another under the same address: what the other has goes to them; nothing is changed.",
  query: JoiningQuery,
  answer: json<Replacing>("Replacing"),
});

export const readTurning = declare({
  method: "GET",
  path: "/api/people/{id}/turning",
  who: "member",
  says: "The edits that turn a guest into a member or a member into a guest, with what a guest may not hold; nothing is changed.",
  answer: json<Replacing>("Replacing"),
});

export class ErasePersonBody {
  /** Their name, typed: erasing is final. */
  @IsString() @MaxLength(200) name!: string;
  @IsString() @MaxLength(1000) note!: string;
}

export const erasePerson = declare({
  method: "POST",
  path: "/api/people/{id}/erase",
  who: "member",
  says: "Erases the name and address of somebody who is suspended, everywhere; the ledger still verifies. Final.",
  body: ErasePersonBody,
  answer: json<Made>("Made"),
});
