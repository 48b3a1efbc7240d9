/** Rules and edits as they travel: validated field by field, unknown fields refused. */
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
  Max,
  MaxLength,
  Min,
  ValidateBy,
  ValidateNested,
} from "class-validator";
import {
  ABILITIES,
  type Ability,
  type Audience,
  type PageState,
  STATES,
  STATES_BEFORE,
  type Stance,
  type StateBefore,
} from "../core/access/model/index.ts";
import { PERIOD_LIMITS } from "../core/review/index.ts";
import { LIMITS } from "../core/words.ts";
import { AreTags, AtPlace, HasWords, IsInstant, MayBeAbsent, MOST_TAGS } from "./checks.ts";
import { GroupEditBody, ManagersEditBody, MemberEditBody, PersonEditBody, PledgeEditBody } from "./peopleEdits.ts";
import { ArrangedEditBody, ContentsEditBody, LandingEditBody, ReadinessWordsEditBody, SettingsEditBody } from "./spaceEdits.ts";

/** Shorter than this no password is, whatever the house says. */
export const LEAST_PASSWORD = 12;

const AUDIENCES: Audience[] = ["public", "accounts", "members"];
export const MOST_EDITS = 500;

export class PrincipalBody {
  @IsOptional() @IsIn(AUDIENCES) audience?: Audience;
  @IsOptional() @IsString() @MaxLength(64) group?: string;
  @IsOptional() @IsString() @MaxLength(64) person?: string;
}

export class GrantBody {
  @IsObject() @ValidateNested() @Type(() => PrincipalBody) to!: PrincipalBody;
  @IsArray() @ArrayMaxSize(ABILITIES.length) @IsIn([...ABILITIES], { each: true }) abilities!: Ability[];
  @IsOptional() @IsInstant() until?: string | null;
  @IsOptional() @IsBoolean() draft?: boolean;
}

export class FenceBody {
  @IsIn(["read", "write"]) kind!: "read" | "write";
  @IsArray()
  @ArrayMaxSize(200)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @Type(() => PrincipalBody)
  admits!: PrincipalBody[];
}

export class GrantEditBody extends AtPlace {
  @IsIn(["grant"]) kind!: "grant";
  @IsOptional() @IsObject() @ValidateNested() @Type(() => GrantBody) remove?: GrantBody;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => GrantBody) put?: GrantBody;
}

export class FenceEditBody extends AtPlace {
  @IsIn(["fence"]) kind!: "fence";
  @IsOptional() @IsObject() @ValidateNested() @Type(() => FenceBody) remove?: FenceBody;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => FenceBody) put?: FenceBody;
}

export class StanceEditBody extends AtPlace {
  @IsIn(["stance"]) kind!: "stance";
  @IsIn(["follow", "fresh"]) from!: Stance;
  @IsIn(["follow", "fresh"]) to!: Stance;
}

export class StateMarkBody {
  @IsIn([...STATES]) state!: PageState;
  @IsOptional() @IsIn([...STATES_BEFORE]) was?: StateBefore;
  @IsOptional() @IsIn(["archived"]) binnedFrom?: "archived";
}

export class StateEditBody extends AtPlace {
  @IsIn(["state"]) kind!: "state";
  @IsObject() @ValidateNested() @Type(() => StateMarkBody) from!: StateMarkBody;
  @IsObject() @ValidateNested() @Type(() => StateMarkBody) to!: StateMarkBody;
}

/** A page handed over; null: to nobody. */
export class OwnerEditBody extends AtPlace {
  @IsIn(["owner"]) kind!: "owner";
  @IsOptional() @IsString() @MaxLength(64) from!: string | null;
  @IsOptional() @IsString() @MaxLength(64) to!: string | null;
}

export class TagsEditBody extends AtPlace {
  @IsIn(["tags"]) kind!: "tags";
  @IsArray() @ArrayMaxSize(500) @IsString({ each: true }) @MaxLength(200, { each: true }) from!: string[];
  @IsArray() @ArrayMaxSize(MOST_TAGS) @ArrayUnique() @AreTags() to!: string[];
}

export class ReadinessEditBody extends AtPlace {
  @IsIn(["readiness"]) kind!: "readiness";
  @IsOptional() @IsString() @MaxLength(200) from!: string | null;
  @IsOptional() @IsString() @MaxLength(200) to!: string | null;
}

export class ReviewPeriodEditBody extends AtPlace {
  @IsIn(["reviewPeriod"]) kind!: "reviewPeriod";
  @IsOptional() @IsInt() @Min(PERIOD_LIMITS.least) @Max(PERIOD_LIMITS.most) from!: number | null;
  @IsOptional() @IsInt() @Min(PERIOD_LIMITS.least) @Max(PERIOD_LIMITS.most) to!: number | null;
}

class CeilingsBody {
  @MayBeAbsent() @IsArray() @ArrayMaxSize(ABILITIES.length) @IsIn([...ABILITIES], { each: true }) outsiders?: Ability[];
  @MayBeAbsent() @IsArray() @ArrayMaxSize(ABILITIES.length) @IsIn([...ABILITIES], { each: true }) guests?: Ability[];
  @MayBeAbsent() @IsBoolean() passes?: boolean;
}

/** The ceilings of a space, or of the site; null: a space has none of its own. */
export class CeilingsEditBody extends AtPlace {
  @IsIn(["ceilings"]) kind!: "ceilings";
  @IsOptional() @IsObject() @ValidateNested() @Type(() => CeilingsBody) from!: CeilingsBody | null;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => CeilingsBody) to!: CeilingsBody | null;
}

/** House rules, as many as an edit speaks of. */
export class HouseRulesBody {
  @MayBeAbsent() @IsInt() @Min(0) @Max(3650) binDays?: number;
  @MayBeAbsent() @IsInt() @Min(LEAST_PASSWORD) @Max(100) passwordLength?: number;
  @MayBeAbsent() @IsBoolean() guestsBySpaceKeepers?: boolean;
  @MayBeAbsent() @IsInt() @Min(0) @Max(3650) useDays?: number;
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(200)
  @ArrayUnique()
  @IsString({ each: true })
  @HasWords({ each: true })
  @MaxLength(60, { each: true })
  sensitiveWords?: string[];
}

/** From and to speak of the same rules. */
const SpeaksOfTheSame = (): PropertyDecorator =>
  ValidateBy({
    name: "speaksOfTheSame",
    validator: {
      validate: (value, it) => {
        const keys = (of: unknown) =>
          Object.keys((of ?? {}) as object)
            .sort()
            .join();
        return keys(value) !== "" && keys(value) === keys((it?.object as { from?: unknown } | undefined)?.from);
      },
      defaultMessage: (it) => `${it?.property} must speak of the same rules as from, at least one`,
    },
  });

export class HouseEditBody {
  @IsIn(["house"]) kind!: "house";
  @IsObject() @ValidateNested() @Type(() => HouseRulesBody) from!: HouseRulesBody;
  @IsObject() @SpeaksOfTheSame() @ValidateNested() @Type(() => HouseRulesBody) to!: HouseRulesBody;
}

/** What edits look like, by kind. */
export const EDIT_BODIES = [
  { value: GrantEditBody, name: "grant" },
  { value: FenceEditBody, name: "fence" },
  { value: StanceEditBody, name: "stance" },
  { value: StateEditBody, name: "state" },
  { value: OwnerEditBody, name: "owner" },
  { value: TagsEditBody, name: "tags" },
  { value: ReadinessEditBody, name: "readiness" },
  { value: ReviewPeriodEditBody, name: "reviewPeriod" },
  { value: ReadinessWordsEditBody, name: "readinessWords" },
  { value: ArrangedEditBody, name: "arranged" },
  { value: SettingsEditBody, name: "settings" },
  { value: ContentsEditBody, name: "contents" },
  { value: LandingEditBody, name: "landing" },
  { value: CeilingsEditBody, name: "ceilings" },
  { value: HouseEditBody, name: "house" },
  { value: PersonEditBody, name: "person" },
  { value: GroupEditBody, name: "group" },
  { value: MemberEditBody, name: "member" },
  { value: ManagersEditBody, name: "managers" },
  { value: PledgeEditBody, name: "pledge" },
];

/** A list of edits; put it on a field of a request class. */
export function Edits(): PropertyDecorator {
  const decorators: PropertyDecorator[] = [
    IsArray(),
    ArrayMaxSize(MOST_EDITS),
    IsObject({ each: true }),
    ValidateNested({ each: true }),
    Type(() => AtPlace, {
      keepDiscriminatorProperty: true,
      discriminator: {
        property: "kind",
        subTypes: EDIT_BODIES,
      },
    }),
  ];
  return (target, key) => {
    for (const decorate of decorators) decorate(target, key);
  };
}

export type EditBody =
  | GrantEditBody
  | FenceEditBody
  | StanceEditBody
  | StateEditBody
  | OwnerEditBody
  | TagsEditBody
  | ReadinessEditBody
  | ReadinessWordsEditBody
  | ArrangedEditBody
  | SettingsEditBody
  | ContentsEditBody
  | LandingEditBody
  | CeilingsEditBody
  | HouseEditBody
  | PersonEditBody
  | GroupEditBody
  | MemberEditBody
  | ManagersEditBody
  | PledgeEditBody;

/** What every act says that was shown before it is made: what it is for, and what was seen. */
export class ActingBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  /** Where one is asked for: a stepping in, a pledge overridden. */
  @IsOptional() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
  /** Fingerprint of the ripple that was on the screen. */
  @IsString() @MaxLength(64) seen!: string;
}
