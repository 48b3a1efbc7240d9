/** Changes: wished for, shown with their ripple, applied. */
import { declare, json } from "./declare.ts";
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsIn,
  IsInt,
  IsObject,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateBy,
  ValidateIf,
  ValidateNested,
} from "class-validator";
import type { Refusal } from "../core/access/authority/index.ts";
import type { SubjectClass } from "../core/access/index/index.ts";
import { ABILITIES, type Ability, type Edit, type Level, type Seq, VIEWPOINT } from "../core/access/model/index.ts";
import type { RippleEntry } from "../core/access/ripple/index.ts";
import type { LifeAct } from "../core/lifecycle/index.ts";
import { LifeActBody } from "./acts.ts";
import { MayBeAbsent } from "./checks.ts";
import type { GridCell } from "./grid.ts";
import { ActingBody, Edits, PrincipalBody } from "./rules.ts";

/** So many acts at most wait in the tray. */
export const MOST_ACTS = 50;

/** Acts with their choices; put it on a field of a request class. They come before the edits beside them. */
function Acts(): PropertyDecorator {
  const decorators = [
    MayBeAbsent(),
    IsArray(),
    ArrayMaxSize(MOST_ACTS),
    IsObject({ each: true }),
    ValidateNested({ each: true }),
    Type(() => LifeActBody),
  ];
  return (target, key) => {
    for (const decorate of decorators) decorate(target, key);
  };
}

export class PreviewBody {
  @Edits() edits!: Edit[];
  @IsArray() @ArrayMaxSize(12) @Matches(VIEWPOINT, { each: true }) columns!: string[];
  @Acts() acts?: LifeAct[];
}

export class ApplyBody extends ActingBody {
  @Edits() edits!: Edit[];
  @Acts() acts?: LifeAct[];
}

/** Stands alone: what it says is not said by another field as well. */
const InsteadOf = (other: string): PropertyDecorator =>
  ValidateBy({
    name: "insteadOf",
    validator: {
      validate: (_, it) => (it?.object as Record<string, unknown> | undefined)?.[other] === undefined,
      defaultMessage: (it) => `${it?.property} must not stand beside ${other}`,
    },
  });

/** A principal is to have exactly a level, or exactly a mix of abilities. */
export class WishBody {
  @IsObject() @ValidateNested() @Type(() => PrincipalBody) principal!: PrincipalBody;
  @ValidateIf((it: WishBody) => it.abilities === undefined) @IsInt() @Min(0) @Max(5) level?: Level;
  @MayBeAbsent() @InsteadOf("level") @IsArray() @ArrayMaxSize(ABILITIES.length) @IsIn([...ABILITIES], { each: true }) abilities?: Ability[];
}

/** At so many places something is wished for at once. */
export const MOST_WISHED_PLACES = 50;

export class ProposalBody {
  @IsString() @MaxLength(64) place!: string;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(12)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @Type(() => WishBody)
  wishes!: WishBody[];
  /** Further places at which just the same is wished for. */
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_WISHED_PLACES - 1)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  alsoAt?: string[];
  /** What waits in the tray already, other than for these wishes. */
  @Edits() edits!: Edit[];
}

export interface RippleLine {
  class: SubjectClass;
  /** Who they are, in kind and number: "17 guests". */
  who: string;
  /** Their names, the first few hundred, and how many more there are; none where the asker may not know others. */
  names: string[];
  unnamed: number;
  /** At how many places one may see, and the first few hundred of them. */
  places: number;
  where: { id: string; title: string }[];
  /** Places counted, not named. */
  hidden: number;
  /** What they had and have, each once. */
  before: string[];
  after: string[];
  gains: string[];
  losses: string[];
  oversight: RippleEntry["oversight"];
}

export interface RippleView {
  empty: boolean;
  /** One sentence for each class of subjects that the change touches, outsiders first. */
  summary: { class: SubjectClass; text: string }[];
  lines: RippleLine[];
  pledges: { breaks: { pledge: string; why: string; witness: string; place: string }[]; mends: string[] };
  closedToAll: string[];
}

export interface Preview {
  seen: string;
  ripple: RippleView;
  refusals: (Refusal & { title: string })[];
  steppingIn: boolean;
  /** Cells that would change, by row and column. */
  cells: { place: string; column: string; before: GridCell; after: GridCell }[];
}

export interface ProposedChange {
  edits: Edit[];
  /** What it does, one sentence for each edit. */
  sentences: string[];
  /** What else it does, besides what was wished. */
  besides: string;
}

export interface ProposalView {
  best: ProposedChange | null;
  others: ProposedChange[];
  /** People who keep what they have because they oversee the place. */
  exceptions: string[];
  alreadySo: boolean;
  /** Why nothing achieves the wish. */
  reason: string;
}

/** The ledger entry that a change was written as. */
export interface Made {
  seq: Seq;
}

export const preview = declare({
  method: "POST",
  path: "/api/preview",
  who: "member",
  says: "What edits would do, and what is in the way; changes nothing.",
  body: PreviewBody,
  answer: json<Preview>("Preview"),
});

export const apply = declare({
  method: "POST",
  path: "/api/changes",
  who: "member",
  says: "Makes edits as one change, if their ripple is still the one that was seen.",
  body: ApplyBody,
  answer: json<Made>("Made"),
});

export const propose = declare({
  method: "POST",
  path: "/api/proposals",
  who: "member",
  says: "The best changes of rules that give a principal exactly a level at a place.",
  body: ProposalBody,
  answer: json<ProposalView>("ProposalView"),
});
