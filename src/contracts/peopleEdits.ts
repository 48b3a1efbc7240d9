/** Edits of people, groups and pledges as they travel. */
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
  ValidateNested,
} from "class-validator";
import { ABILITIES, type Ability, type PageState } from "../core/access/model/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsInstant, IsLine, IsTag, MayBeAbsent } from "./checks.ts";

/** Ids that come in with what is new: short, and of signs that mean nothing anywhere. */
const NEW_ID = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/;

export class PersonBody {
  @IsString() @MaxLength(64) id!: string;
  @MayBeAbsent() @IsString() @MaxLength(200) name?: string;
  @IsIn(["guest", "member"]) kind!: "guest" | "member";
  @IsIn(["active", "suspended"]) status!: "active" | "suspended";
  @IsOptional() @IsInstant() until?: string | null;
}

/** By this door nobody is called otherwise. */
const KeepsTheName = (): PropertyDecorator =>
  ValidateBy({
    name: "keepsTheName",
    validator: {
      validate: (value, it) =>
        (value as Partial<PersonBody> | null)?.name === (it?.object as { remove?: Partial<PersonBody> })?.remove?.name,
      defaultMessage: (it) => `${it?.property} must have the name of remove: status, until and kind change here`,
    },
  });

/** Somebody who is here already is suspended, let back in, given an end, or turned guest or member. (People come in by other doors.) */
export class PersonEditBody {
  @IsIn(["person"]) kind!: "person";
  @IsString() @MaxLength(64) person!: string;
  @IsObject() @ValidateNested() @Type(() => PersonBody) remove!: PersonBody;
  @IsObject() @KeepsTheName() @ValidateNested() @Type(() => PersonBody) put!: PersonBody;
}

export class GroupBody {
  @IsString() @MaxLength(64) id!: string;
  @MayBeAbsent() @IsString() @MaxLength(200) name?: string;
}

export class NamedGroupBody {
  @IsString() @MaxLength(64) id!: string;
  @IsLine(LIMITS.group) @HasWords() name!: string;
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

export class ManagerBody {
  @IsString() @MaxLength(64) person!: string;
  @IsBoolean() guests!: boolean;
}

/** So many people manage a group at most. */
export const MOST_MANAGERS = 20;

const Managers = (): PropertyDecorator => (target, key) => {
  for (const check of [
    IsArray(),
    ArrayMaxSize(MOST_MANAGERS),
    ArrayUnique((it: ManagerBody) => it?.person),
    IsObject({ each: true }),
    ValidateNested({ each: true }),
    Type(() => ManagerBody),
  ])
    check(target, key);
};

export class ManagersEditBody {
  @IsIn(["managers"]) kind!: "managers";
  @IsString() @MaxLength(64) group!: string;
  @Managers() from!: ManagerBody[];
  @Managers() to!: ManagerBody[];
}

export class MemberEditBody {
  @IsIn(["member"]) kind!: "member";
  @IsString() @MaxLength(64) group!: string;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => MemberBody) remove?: MemberBody;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => MemberBody) put?: MemberBody;
}

class PledgeWhoBody {
  @MayBeAbsent() @IsIn(["outsiders", "guests", "members"]) class?: "outsiders" | "guests" | "members";
  @MayBeAbsent() @IsString() @MaxLength(64) group?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) person?: string;
}

class PledgeWhereBody {
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
  @MayBeAbsent() @IsString() @MaxLength(64) subtree?: string;
  @MayBeAbsent() @IsTag() tag?: string;
  @MayBeAbsent() @IsIn(["live", "draft", "scheduled", "archived", "binned"]) state?: PageState;
}

/** What a pledge says, without the id that it is known by. */
export class PledgeSaysBody {
  @IsObject() @ValidateNested() @Type(() => PledgeWhoBody) who!: PledgeWhoBody;
  @IsIn(["never", "always"]) rule!: "never" | "always";
  @IsIn([...ABILITIES]) ability!: Ability;
  @IsObject() @ValidateNested() @Type(() => PledgeWhereBody) where!: PledgeWhereBody;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) why?: string;
}

export class PledgeBody extends PledgeSaysBody {
  @IsString() @MaxLength(64) id!: string;
}

/** A pledge is made, changed or taken away. */
export class PledgeEditBody {
  @IsIn(["pledge"]) kind!: "pledge";
  @IsString() @MaxLength(64) pledge!: string;
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => PledgeBody) remove?: PledgeBody;
  @MayBeAbsent() @IsObject() @NewIdIsPlain() @ValidateNested() @Type(() => PledgeBody) put?: PledgeBody;
}
