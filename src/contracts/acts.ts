/** Acts as they travel, with their choices. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
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
  MinLength,
  ValidateNested,
} from "class-validator";
import { ARRIVALS, type Arrival, type Below, LIFE_ACTS, type LifeActName } from "../core/lifecycle/index.ts";
import { MayBeAbsent } from "./checks.ts";

/** Acts on more chosen places than this are jobs, and cannot wait in the tray. */
export const MOST_AT_ONCE = 100;

/** A move gives in no more pages than this: each is an entry of its own, and the line of changes waits for them all. */
export const MOST_GIVEN_IN = 100;

export class LandingBody {
  @IsString() @MaxLength(64) space!: string;
  @IsString() @MaxLength(64) page!: string;
}

export class LifeActBody {
  @IsIn([...LIFE_ACTS]) act!: LifeActName;
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_AT_ONCE)
  @ArrayUnique()
  @IsString({ each: true })
  @MaxLength(64, { each: true })
  places!: string[];
  @MayBeAbsent() @IsIn(["along", "handUp", "stay"]) below?: Below;
  @MayBeAbsent()
  @IsArray()
  @ArrayMaxSize(MOST_AT_ONCE)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @Type(() => LandingBody)
  landings?: LandingBody[];
  @MayBeAbsent() @IsString() @MaxLength(64) to?: string;
  @IsOptional() @IsString() @MinLength(1) @MaxLength(64) after?: string | null;
  @MayBeAbsent() @IsIn(ARRIVALS) arrive?: Arrival;
  @MayBeAbsent() @IsBoolean() back?: boolean;
  @MayBeAbsent() @IsInt() @Min(0) @Max(1_000_000) pages?: number;
  @MayBeAbsent() @IsArray() @ArrayMaxSize(500) @IsString({ each: true }) @MaxLength(64, { each: true }) passes?: string[];
}
