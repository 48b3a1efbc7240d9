/** Rules and edits as they travel: validated field by field, unknown fields refused. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsISO8601,
  IsObject,
  IsOptional,
  IsString,
  MaxLength,
  ValidateBy,
  ValidateNested,
} from "class-validator";
import { ABILITIES, type Ability } from "../core/access/abilities.ts";
import type { Audience, PageState, Stance, StateBefore } from "../core/access/document.ts";
import { hasWords } from "../core/words.ts";

/** A text that holds more than blanks. */
export const HasWords = (): PropertyDecorator =>
  ValidateBy({
    name: "hasWords",
    validator: {
      validate: (value) => typeof value === "string" && hasWords(value),
      defaultMessage: (it) => `${it?.property} must hold words, not only blanks`,
    },
  });

const AUDIENCES: Audience[] = ["public", "accounts", "members"];
const STATES: PageState[] = ["live", "draft", "scheduled", "archived", "binned"];
export const MOST_EDITS = 500;

export class PrincipalBody {
  @IsOptional() @IsIn(AUDIENCES) audience?: Audience;
  @IsOptional() @IsString() @MaxLength(64) group?: string;
  @IsOptional() @IsString() @MaxLength(64) person?: string;
}

export class GrantBody {
  @IsObject() @ValidateNested() @Type(() => PrincipalBody) to!: PrincipalBody;
  @IsArray() @ArrayMaxSize(ABILITIES.length) @IsIn([...ABILITIES], { each: true }) abilities!: Ability[];
  @IsOptional() @IsISO8601({ strict: true }) until?: string | null;
  @IsOptional() @IsBoolean() draft?: boolean;
}

export class FenceBody {
  @IsIn(["read", "write"]) kind!: "read" | "write";
  @IsArray() @ArrayMaxSize(200) @ValidateNested({ each: true }) @Type(() => PrincipalBody) admits!: PrincipalBody[];
}

class AtPlace {
  @IsString() @MaxLength(64) place!: string;
}

export class GrantEditBody extends AtPlace {
  @IsIn(["grant"]) kind!: "grant";
  @IsOptional() @ValidateNested() @Type(() => GrantBody) remove?: GrantBody;
  @IsOptional() @ValidateNested() @Type(() => GrantBody) put?: GrantBody;
}

export class FenceEditBody extends AtPlace {
  @IsIn(["fence"]) kind!: "fence";
  @IsOptional() @ValidateNested() @Type(() => FenceBody) remove?: FenceBody;
  @IsOptional() @ValidateNested() @Type(() => FenceBody) put?: FenceBody;
}

export class StanceEditBody extends AtPlace {
  @IsIn(["stance"]) kind!: "stance";
  @IsIn(["follow", "fresh"]) from!: Stance;
  @IsIn(["follow", "fresh"]) to!: Stance;
}

export class StateMarkBody {
  @IsIn(STATES) state!: PageState;
  @IsOptional() @IsIn(["live", "draft", "scheduled"]) was?: StateBefore;
}

export class StateEditBody extends AtPlace {
  @IsIn(["state"]) kind!: "state";
  @ValidateNested() @Type(() => StateMarkBody) from!: StateMarkBody;
  @ValidateNested() @Type(() => StateMarkBody) to!: StateMarkBody;
}

/** A list of edits; put it on a field of a request class. */
export function Edits(): PropertyDecorator {
  const decorators: PropertyDecorator[] = [
    IsArray(),
    ArrayMaxSize(MOST_EDITS),
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
        ],
      },
    }),
  ];
  return (target, key) => {
    for (const decorate of decorators) decorate(target, key);
  };
}

export type EditBody = GrantEditBody | FenceEditBody | StanceEditBody | StateEditBody;
