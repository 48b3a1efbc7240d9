/** What comes in by the AuthZEN Authorization API 1.0. Properties and context may hold anything. */
import "reflect-metadata";
import { Type } from "class-transformer";
import { ArrayMaxSize, IsArray, IsIn, IsInt, IsObject, IsOptional, IsString, Max, MaxLength, Min, ValidateNested } from "class-validator";

const ID = 200;
/** So many evaluations in one request. */
export const MOST_EVALUATIONS = 5_000;
/** So many results of a search in one page. */
export const MOST_RESULTS = 1_000;

/** A subject or a resource: a type and an id. */
export class EntityBody {
  @IsString() @MaxLength(ID) type!: string;
  @IsString() @MaxLength(ID) id!: string;
  @IsOptional() @IsObject() properties?: object;
}

/** A subject or a resource that is searched for: the type alone. */
export class TypeBody {
  @IsString() @MaxLength(ID) type!: string;
  @IsOptional() @IsString() @MaxLength(ID) id?: string;
  @IsOptional() @IsObject() properties?: object;
}

export class ActionBody {
  @IsString() @MaxLength(ID) name!: string;
  @IsOptional() @IsObject() properties?: object;
}

export class EvaluationBody {
  @IsObject() @ValidateNested() @Type(() => EntityBody) subject!: EntityBody;
  @IsObject() @ValidateNested() @Type(() => ActionBody) action!: ActionBody;
  @IsObject() @ValidateNested() @Type(() => EntityBody) resource!: EntityBody;
  @IsOptional() @IsObject() context?: Record<string, unknown>;
}

/** One of several: what it leaves out is taken from the whole request. */
export class PartialEvaluationBody {
  @IsOptional() @IsObject() @ValidateNested() @Type(() => EntityBody) subject?: EntityBody;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => ActionBody) action?: ActionBody;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => EntityBody) resource?: EntityBody;
  @IsOptional() @IsObject() context?: Record<string, unknown>;
}

export const SEMANTICS = ["execute_all", "deny_on_first_deny", "permit_on_first_permit"] as const;
export type Semantics = (typeof SEMANTICS)[number];

export class EvaluationOptions {
  @IsOptional() @IsIn(SEMANTICS) evaluations_semantic?: Semantics;
}

export class EvaluationsBody extends PartialEvaluationBody {
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_EVALUATIONS)
  @ValidateNested({ each: true })
  @Type(() => PartialEvaluationBody)
  evaluations?: PartialEvaluationBody[];
  @IsOptional() @IsObject() @ValidateNested() @Type(() => EvaluationOptions) options?: EvaluationOptions;
}

export class PageBody {
  /** Where the next page begins, as the page before said. */
  @IsOptional() @IsString() @MaxLength(400) token?: string;
  @IsOptional() @IsInt() @Min(1) @Max(MOST_RESULTS) limit?: number;
}

class SearchBody {
  @IsOptional() @IsObject() context?: Record<string, unknown>;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => PageBody) page?: PageBody;
}

export class SubjectSearchBody extends SearchBody {
  @IsObject() @ValidateNested() @Type(() => TypeBody) subject!: TypeBody;
  @IsObject() @ValidateNested() @Type(() => ActionBody) action!: ActionBody;
  @IsObject() @ValidateNested() @Type(() => EntityBody) resource!: EntityBody;
}

export class ResourceSearchBody extends SearchBody {
  @IsObject() @ValidateNested() @Type(() => EntityBody) subject!: EntityBody;
  @IsObject() @ValidateNested() @Type(() => ActionBody) action!: ActionBody;
  @IsObject() @ValidateNested() @Type(() => TypeBody) resource!: TypeBody;
}

export class ActionSearchBody extends SearchBody {
  @IsObject() @ValidateNested() @Type(() => EntityBody) subject!: EntityBody;
  @IsObject() @ValidateNested() @Type(() => EntityBody) resource!: EntityBody;
}
