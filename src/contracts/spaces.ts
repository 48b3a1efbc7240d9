/** Spaces: looking at what a new one would be, making it. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsObject,
  IsString,
  IsTimeZone,
  Matches,
  MaxLength,
  ValidateNested,
} from "class-validator";
import type { Principal } from "../core/access/model/index.ts";
import { PRESETS, type Preset } from "../core/access/presets/index.ts";
import { LIMITS } from "../core/words.ts";
import type { Preview } from "./change.ts";
import { HasWords, IsLine, MayBeAbsent, SPACE_ADDRESS } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { GridCell } from "./grid.ts";
import { PrincipalBody } from "./rules.ts";
import { MOST_TEMPLATE_PAGES } from "./templates.ts";
import type { Started } from "./writing.ts";

/** So many groups and people are named Keepers, Publishers or Writers of a space from its first day. */
export const MOST_NAMED = 20;

/** Groups and people, on a field of a request class. */
function Principals(): PropertyDecorator {
  const decorators = [
    IsArray(),
    ArrayMaxSize(MOST_NAMED),
    IsObject({ each: true }),
    ValidateNested({ each: true }),
    Type(() => PrincipalBody),
  ];
  return (target, key) => {
    for (const decorate of decorators) decorate(target, key);
  };
}

const NEW_PLACE = /^[a-z0-9]{10}$/;

/** How a new space is to be. */
export class SpaceBody {
  @IsIn([...PRESETS]) preset!: Preset;
  @Principals() keepers!: Principal[];
  @Principals() publishers!: Principal[];
  @Principals() writers!: Principal[];
  /** Ids of the space and of its pages, as an earlier look gave them. */
  @MayBeAbsent() @Matches(NEW_PLACE) space?: string;
  @MayBeAbsent() @IsArray() @ArrayMaxSize(MOST_TEMPLATE_PAGES) @ArrayUnique() @Matches(NEW_PLACE, { each: true }) pages?: string[];
  /** Title of the first page, on which people land; it goes live with the space. Absent: it begins with none. */
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.title) first?: string;
  /** The template of the site that its first pages come from: the first goes live, those below it begin as drafts. */
  @MayBeAbsent() @IsString() @MaxLength(64) template?: string;
  /** Absent: it follows from the title. */
  @MayBeAbsent() @Matches(SPACE_ADDRESS, { message: "address must be small letters, digits and hyphens, at most 60" }) address?: string;
}

export class LookAtSpaceBody extends SpaceBody {
  /** As far as it is typed. */
  @IsLine(LIMITS.title) title!: string;
}

export class StartSpaceBody extends SpaceBody {
  @IsLine(LIMITS.title) @HasWords() title!: string;
  /** What it is for, in a sentence; readers see it at the front door. */
  @IsString() @MaxLength(LIMITS.note) purpose!: string;
  /** Zone of whoever makes it, for the day that a template is filled with. */
  @MayBeAbsent() @IsTimeZone() zone?: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
  @IsString() @MaxLength(64) seen!: string;
}

/** What somebody, or all of a kind, could do in a space. */
export interface SpaceRow {
  key: string;
  name: string;
  /** From outside: the public, a guest. */
  outside: boolean;
  cell: GridCell;
}

export interface SpaceLook {
  space: string;
  pages: string[];
  /** The address it would have, and whether another space has it. */
  address: string;
  taken: boolean;
  /** The public, guests, members, and whoever is named. */
  rows: SpaceRow[];
  /** What the public, guests and members could do by each preset. */
  presets: Record<Preset, SpaceRow[]>;
  preview: Preview;
}

export const lookAtSpace = declare({
  method: "POST",
  path: "/api/spaces/look",
  who: "member",
  says: "Who could do what in a space made so; changes nothing.",
  body: LookAtSpaceBody,
  answer: json<SpaceLook>("SpaceLook"),
});

export const startSpace = declare({
  method: "POST",
  path: "/api/spaces",
  who: "member",
  says: "Makes a space with the rules of a preset and its first page, in one change.",
  body: StartSpaceBody,
  answer: json<Started>("Started"),
});
