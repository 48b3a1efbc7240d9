/** What is said of a space beside its rules, as it travels in edits. */
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
  ValidateBy,
  ValidateNested,
} from "class-validator";
import type { ContentsEntry } from "../core/access/model/index.ts";
import { isSafeHref } from "../core/content/index.ts";
import { PERIOD_LIMITS } from "../core/review/index.ts";
import { LIMITS } from "../core/words.ts";
import { AreTags, AtPlace, HasWords, IsLine, MayBeAbsent, SPACE_ADDRESS } from "./checks.ts";

export const MOST_READINESS = 12;

export class ReadinessWordsEditBody extends AtPlace {
  @IsIn(["readinessWords"]) kind!: "readinessWords";
  @IsArray() @ArrayMaxSize(500) @IsString({ each: true }) @MaxLength(200, { each: true }) from!: string[];
  @IsArray() @ArrayMaxSize(MOST_READINESS) @ArrayUnique() @AreTags() to!: string[];
}

export class ArrangedEditBody extends AtPlace {
  @IsIn(["arranged"]) kind!: "arranged";
  @IsIn(["hand", "name"]) from!: "hand" | "name";
  @IsIn(["hand", "name"]) to!: "hand" | "name";
}

export class SettingsBody {
  @IsLine(LIMITS.title) @HasWords() name!: string;
  @Matches(SPACE_ADDRESS, { message: "address must be small letters, digits and hyphens, at most 60" }) address!: string;
  @IsString() @MaxLength(LIMITS.note) purpose!: string;
  @MayBeAbsent() @IsBoolean() history?: boolean;
  @MayBeAbsent() @IsBoolean() indexed?: boolean;
  @MayBeAbsent() @IsBoolean() approval?: boolean;
  @MayBeAbsent() @IsInt() @Min(PERIOD_LIMITS.least) @Max(PERIOD_LIMITS.most) review?: number;
  @MayBeAbsent() @IsBoolean() flags?: boolean;
}

/** What a space was before may be of an older day, when less was asked of it. */
class SettingsBefore {
  @IsString() @MaxLength(LIMITS.title) name!: string;
  @IsString() @MaxLength(200) address!: string;
  @IsString() @MaxLength(LIMITS.note) purpose!: string;
  @MayBeAbsent() @IsBoolean() history?: boolean;
  @MayBeAbsent() @IsBoolean() indexed?: boolean;
  @MayBeAbsent() @IsBoolean() approval?: boolean;
  @MayBeAbsent() @IsInt() @Min(PERIOD_LIMITS.least) @Max(PERIOD_LIMITS.most) review?: number;
  @MayBeAbsent() @IsBoolean() flags?: boolean;
}

export class SettingsEditBody extends AtPlace {
  @IsIn(["settings"]) kind!: "settings";
  @IsObject() @ValidateNested() @Type(() => SettingsBefore) remove!: SettingsBefore;
  @IsObject() @ValidateNested() @Type(() => SettingsBody) put!: SettingsBody;
}

/** So many entries stand in the contents of a space at most. */
export const MOST_ENTRIES = 200;

/** Whether an address can stand in the contents: of the web, mail, telephone, or of this site. */
export const isContentsAddress = (text: unknown): boolean =>
  typeof text === "string" && isSafeHref(text) && !/\s/.test(text) && !text.startsWith("#");

/** Each entry is a heading, a page, or an address with words. */
const AreEntries = (): PropertyDecorator =>
  ValidateBy({
    name: "areEntries",
    validator: {
      validate: (value) =>
        Array.isArray(value) &&
        value.every((it: object | null) =>
          ["heading", "page", "link,words"].includes(
            Object.keys(it ?? {})
              .sort()
              .join(),
          ),
        ),
      defaultMessage: (it) => `${it?.property} must each be a heading, a page, or a link with words`,
    },
  });

class ContentsEntryBody {
  @MayBeAbsent() @IsLine(LIMITS.title) @HasWords() heading?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) page?: string;
  @MayBeAbsent()
  @ValidateBy({
    name: "isContentsAddress",
    validator: {
      validate: isContentsAddress,
      defaultMessage: () => "link must be an address of the web, of mail or telephone, or begin with / on this site",
    },
  })
  link?: string;
  @MayBeAbsent() @IsLine(LIMITS.title) @HasWords() words?: string;
}

export class ContentsBody {
  @IsArray()
  @ArrayMaxSize(MOST_ENTRIES)
  @IsObject({ each: true })
  @AreEntries()
  @ValidateNested({ each: true })
  @Type(() => ContentsEntryBody)
  entries!: ContentsEntry[];
  @IsBoolean() rest!: boolean;
}

export class ContentsEditBody extends AtPlace {
  @IsIn(["contents"]) kind!: "contents";
  @IsObject() @ValidateNested() @Type(() => ContentsBody) remove!: ContentsBody;
  @IsObject() @ValidateNested() @Type(() => ContentsBody) put!: ContentsBody;
}

export class LandingEditBody extends AtPlace {
  @IsIn(["landing"]) kind!: "landing";
  @IsOptional() @IsString() @MaxLength(64) from!: string | null;
  @IsString() @MaxLength(64) to!: string;
}
