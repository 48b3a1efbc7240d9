/** Rules and edits as they travel: validated field by field, unknown fields refused. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsBoolean,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
  ValidateBy,
  ValidateIf,
  ValidateNested,
} from "class-validator";
import {
  ABILITIES,
  type Ability,
  type Audience,
  instantOf,
  type PageState,
  STATES,
  STATES_BEFORE,
  type Stance,
  type StateBefore,
} from "../core/access/model/index.ts";
import { hasWords, LIMITS } from "../core/words.ts";

/** A text that holds more than blanks. */
export const HasWords = (): PropertyDecorator =>
  ValidateBy({
    name: "hasWords",
    validator: {
      validate: (value) => typeof value === "string" && hasWords(value),
      defaultMessage: (it) => `${it?.property} must hold words, not only blanks`,
    },
  });

/** A field that may be left out; null is no way of leaving it out, and is checked like any other value. */
export const MayBeAbsent = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined);

/** An instant as rules know them: ISO 8601 with an offset, of the years 1 to 9999. */
export const IsInstant = (): PropertyDecorator =>
  ValidateBy({
    name: "isInstant",
    validator: {
      validate: (value) => typeof value === "string" && !Number.isNaN(instantOf(value)),
      defaultMessage: (it) => `${it?.property} must be an ISO 8601 instant with an offset, like 2027-01-01T00:00:00Z`,
    },
  });

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

class AtPlace {
  @IsString() @MaxLength(64) place!: string;
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

const TAG = /^[^\s,](?:[^,\r\n]{0,38}[^\s,])?$/;
export const MOST_TAGS = 30;

/** Whether a text can be a tag: a few words without commas, and no blanks around them. */
export const isTag = (text: unknown): boolean => typeof text === "string" && TAG.test(text) && hasWords(text);

/** A list of tags. */
export const AreTags = (): PropertyDecorator =>
  ValidateBy({
    name: "areTags",
    validator: {
      validate: (value) => Array.isArray(value) && value.every(isTag),
      defaultMessage: (it) => `${it?.property} must be tags: words of at most 40 characters, without commas and without blanks around them`,
    },
  });

export class TagsEditBody extends AtPlace {
  @IsIn(["tags"]) kind!: "tags";
  @IsArray() @ArrayMaxSize(500) @IsString({ each: true }) @MaxLength(200, { each: true }) from!: string[];
  @IsArray() @ArrayMaxSize(MOST_TAGS) @ArrayUnique() @AreTags() to!: string[];
}

export const MOST_READINESS = 12;

export class ReadinessEditBody extends AtPlace {
  @IsIn(["readiness"]) kind!: "readiness";
  @IsOptional() @IsString() @MaxLength(200) from!: string | null;
  @IsOptional() @IsString() @MaxLength(200) to!: string | null;
}

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

/** Ids that come in with what is new: short, and of signs that mean nothing anywhere. */
const NEW_ID = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/;

export class PersonBody {
  @IsString() @MaxLength(64) id!: string;
  @MayBeAbsent() @IsString() @MaxLength(200) name?: string;
  @IsIn(["guest", "member"]) kind!: "guest" | "member";
  @IsIn(["active", "suspended"]) status!: "active" | "suspended";
  @IsOptional() @IsInstant() until?: string | null;
}

/** By this door nobody is called otherwise, or becomes a guest or a member. */
const OnlyStandingChanges = (): PropertyDecorator =>
  ValidateBy({
    name: "onlyStandingChanges",
    validator: {
      validate: (value, it) => {
        const { remove } = (it?.object ?? {}) as { remove?: Partial<PersonBody> | null };
        const put = value as Partial<PersonBody> | null;
        return put?.name === remove?.name && put?.kind === remove?.kind;
      },
      defaultMessage: (it) => `${it?.property} must have the name and the kind of remove: only status and until change here`,
    },
  });

/** Somebody who is here already is suspended, let back in, or given an end. (People come in by other doors.) */
export class PersonEditBody {
  @IsIn(["person"]) kind!: "person";
  @IsString() @MaxLength(64) person!: string;
  @IsObject() @ValidateNested() @Type(() => PersonBody) remove!: PersonBody;
  @IsObject() @OnlyStandingChanges() @ValidateNested() @Type(() => PersonBody) put!: PersonBody;
}

export class GroupBody {
  @IsString() @MaxLength(64) id!: string;
  @MayBeAbsent() @IsString() @MaxLength(200) name?: string;
}

export class NamedGroupBody {
  @IsString() @MaxLength(64) id!: string;
  @IsString() @HasWords() @MaxLength(LIMITS.group) name!: string;
}

/** What is put where nothing was has an id that means nothing anywhere; one that stands keeps its own. */
const NewIdIsPlain = (): PropertyDecorator =>
  ValidateBy({
    name: "newIdIsPlain",
    validator: {
      validate: (value, it) =>
        (it?.object as { remove?: unknown } | undefined)?.remove !== undefined || NEW_ID.test((value as { id?: string })?.id ?? ""),
      defaultMessage: (it) => `${it?.property}.id must be up to 64 letters, digits, hyphens and underscores, a letter or digit first`,
    },
  });

export class GroupEditBody {
  @IsIn(["group"]) kind!: "group";
  @IsString() @MaxLength(64) group!: string;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => GroupBody) remove?: GroupBody;
  @MayBeAbsent() @IsObject() @NewIdIsPlain() @ValidateNested() @Type(() => NamedGroupBody) put?: NamedGroupBody;
}

export class MemberBody {
  @MayBeAbsent() @IsString() @MaxLength(64) group?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) person?: string;
}

export class MemberEditBody {
  @IsIn(["member"]) kind!: "member";
  @IsString() @MaxLength(64) group!: string;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => MemberBody) remove?: MemberBody;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => MemberBody) put?: MemberBody;
}

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
        subTypes: [
          { value: GrantEditBody, name: "grant" },
          { value: FenceEditBody, name: "fence" },
          { value: StanceEditBody, name: "stance" },
          { value: StateEditBody, name: "state" },
          { value: OwnerEditBody, name: "owner" },
          { value: TagsEditBody, name: "tags" },
          { value: ReadinessEditBody, name: "readiness" },
          { value: ReadinessWordsEditBody, name: "readinessWords" },
          { value: ArrangedEditBody, name: "arranged" },
          { value: PersonEditBody, name: "person" },
          { value: GroupEditBody, name: "group" },
          { value: MemberEditBody, name: "member" },
        ],
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
  | PersonEditBody
  | GroupEditBody
  | MemberEditBody;

/** What every act says that was shown before it is made: what it is for, and what was seen. */
export class ActingBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  /** Where one is asked for: a stepping in, a pledge overridden. */
  @IsOptional() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
  /** Fingerprint of the ripple that was on the screen. */
  @IsString() @MaxLength(64) seen!: string;
}
