/** Bodies of requests to the JSON endpoints. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsEmail,
  IsIn,
  IsInt,
  IsISO8601,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from "class-validator";
import { ABILITIES, type Ability, type Level } from "../core/access/abilities.ts";
import type { PageBody } from "../core/content/body.ts";
import { LIMITS } from "../core/words.ts";
import { type EditBody, Edits, HasWords, PrincipalBody } from "./rules.ts";
import { TOKEN_SCOPES, type TokenScope } from "./tokens.ts";

export class SignInBody {
  @IsEmail() email!: string;
  @IsString() @MinLength(1) @MaxLength(200) password!: string;
}

export class DemoSignInBody {
  @IsString() @MaxLength(64) person!: string;
}

/** Columns of the grid: `public`, `guests`, `members`, `group:ID`, `person:ID`, `pass:ID`. */
const COLUMN = /^(public|guests|members|(group|person|pass):[\w-]{1,60})$/;

export class PreviewBody {
  @Edits() edits!: EditBody[];
  @IsArray() @ArrayMaxSize(12) @Matches(COLUMN, { each: true }) columns!: string[];
}

export class ApplyBody {
  @Edits() @ArrayMinSize(1) edits!: EditBody[];
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @IsOptional() @IsString() @MaxLength(LIMITS.note) reason?: string;
  /** Fingerprint of the ripple that was on the screen. */
  @IsString() @MaxLength(64) seen!: string;
}

export class WishBody {
  @IsObject() @ValidateNested() @Type(() => PrincipalBody) principal!: PrincipalBody;
  @IsInt() @Min(0) @Max(5) level!: Level;
}

export class ProposalBody {
  @IsString() @MaxLength(64) place!: string;
  @IsArray() @ArrayMinSize(1) @ArrayMaxSize(12) @ValidateNested({ each: true }) @Type(() => WishBody) wishes!: WishBody[];
  /** What waits in the tray already, other than for these wishes. */
  @Edits() edits!: EditBody[];
}

export class WhyQuery {
  @IsString() @MaxLength(64) place!: string;
  @Matches(COLUMN) column!: string;
  @IsOptional() @IsIn([...ABILITIES]) ability?: Ability;
}

export class GridQuery {
  @IsOptional() @Matches(/^[\w:,-]{0,800}$/) columns?: string;
  /** Places whose insides are wanted where not everything is sent at once. */
  @IsOptional() @Matches(/^[\w,-]{0,4000}$/) open?: string;
}

export class SearchQuery {
  @IsString() @MaxLength(100) q!: string;
}

export class PeopleQuery {
  @IsOptional() @IsString() @MaxLength(100) q?: string;
}

export class StartPageBody {
  @IsString() @MaxLength(64) parent!: string;
  @IsIn(["page", "bulletin"]) as!: "page" | "bulletin";
  @IsString() @HasWords() @MaxLength(LIMITS.title) title!: string;
}

const TAB = /^[\w-]{1,40}$/;

/** Kept words that are not needed any more, up to a change. */
export class SpentBody {
  @Matches(TAB) tab!: string;
  @IsInt() @Min(0) @Max(Number.MAX_SAFE_INTEGER) rev!: number;
}

/** Kept words that go: they are in a version now, were taken up elsewhere, or thrown away. */
export class SpendingBody {
  @IsArray() @ArrayMaxSize(100) @ValidateNested({ each: true }) @Type(() => SpentBody) spent!: SpentBody[];
}

export class SaveBody extends SpendingBody {
  @IsString() @HasWords() @MaxLength(LIMITS.title) title!: string;
  @IsObject() body!: PageBody;
  /** The version these words were written on, as "2.1". */
  @Matches(/^\d+\.\d+$/) base!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
}

export class BufferBody extends SpendingBody {
  @IsString() @MaxLength(2 * LIMITS.title) title!: string;
  @IsObject() body!: PageBody;
  @Matches(/^\d+\.\d+$/) base!: string;
  @Matches(TAB) tab!: string;
  @IsInt() @Min(1) @Max(Number.MAX_SAFE_INTEGER) rev!: number;
}

export class PublishBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @Matches(/^\d+\.\d+$/) version!: string;
  @IsString() @MaxLength(64) seen!: string;
  @IsOptional() @IsString() @MaxLength(LIMITS.note) reason?: string;
}

export class ScheduleBody {
  @IsISO8601({ strict: true }) at!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
}

export class StepInBody {
  @IsString() @HasWords() @MaxLength(LIMITS.note) reason!: string;
}

export class TakeBackBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @IsString() @MaxLength(64) seen!: string;
  @IsOptional() @IsString() @MaxLength(LIMITS.note) reason?: string;
}

export class LedgerQuery {
  @IsOptional() @IsString() @MaxLength(64) who?: string;
  @IsOptional() @IsString() @MaxLength(64) place?: string;
  @IsOptional() @IsString() @MaxLength(30) act?: string;
  @IsOptional() @Matches(/^\d+$/) before?: string;
}

export class NoQuery {}

/** A part of the site and a format, for the effective access row by row. */
export class EffectiveQuery {
  @IsIn(["space", "subtree", "person"]) of!: "space" | "subtree" | "person";
  @IsString() @MaxLength(64) id!: string;
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
  @IsOptional() @IsISO8601() asOf?: string;
}

/** A file of the class form of the whole site, and a format. */
export class ClassesQuery {
  @IsIn(["cells", "places", "people", "exceptions"]) file!: "cells" | "places" | "people" | "exceptions";
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
  @IsOptional() @IsISO8601() asOf?: string;
}

export class AsOfQuery {
  @IsOptional() @IsISO8601() asOf?: string;
}

export class TokenBody {
  @IsString() @HasWords() @MaxLength(LIMITS.name) name!: string;
  @IsArray() @ArrayMinSize(1) @IsIn(TOKEN_SCOPES, { each: true }) scopes!: TokenScope[];
  @IsOptional() @IsISO8601() until?: string;
}

/** Words to search for, and which page of what is found. */
export class FullSearchQuery {
  @IsString() @MaxLength(200) q!: string;
  @IsOptional() @Matches(/^[1-9]\d?$/) page?: string;
}

/** An access document, as it was exported and edited; what is wrong in it is told by the path it stands at. */
export class DocumentBody {
  @IsObject() document!: object;
}

export class ApplyDocumentBody extends DocumentBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @IsOptional() @IsString() @MaxLength(LIMITS.note) reason?: string;
  @IsString() @MaxLength(64) seen!: string;
}
