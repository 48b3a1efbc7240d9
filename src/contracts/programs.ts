/** What programs ask: AuthZEN, exports. Properties and context may hold anything. */
import { declare, file, json } from "./declare.ts";
import "reflect-metadata";
import { Type } from "class-transformer";
import { ArrayMaxSize, IsArray, IsIn, IsInt, IsObject, IsOptional, IsString, Max, MaxLength, Min, ValidateNested } from "class-validator";
import { IsInstant } from "./checks.ts";

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
  @IsObject({ each: true })
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

/** A part of the site and a format, for the effective access row by row. */
export class EffectiveQuery {
  @IsIn(["space", "subtree", "person"]) of!: "space" | "subtree" | "person";
  @IsString() @MaxLength(64) id!: string;
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
  @IsOptional() @IsInstant() asOf?: string;
}

/** A file of the class form of the whole site, and a format. */
export class ClassesQuery {
  @IsIn(["cells", "places", "people", "exceptions"]) file!: "cells" | "places" | "people" | "exceptions";
  @IsIn(["csv", "json", "xlsx"]) format!: "csv" | "json" | "xlsx";
  @IsOptional() @IsInstant() asOf?: string;
}

export class AsOfQuery {
  @IsOptional() @IsInstant() asOf?: string;
}

export interface Decision {
  decision: boolean;
  context?: { reason: string };
}

export interface Decisions {
  evaluations: Decision[];
}

export type DecisionOrDecisions = Decision | Decisions;

export interface Results<T> {
  page: { next_token: string; count: number; total: number };
  results: T[];
}

export interface Entity {
  type: string;
  id: string;
}

export interface ActionName {
  name: string;
}

export type EntityResults = Results<Entity>;
export type ActionResults = Results<ActionName>;

const DECISIONS = { scope: "decisions" } as const;
const EXPORTS = { scope: "exports" } as const;

export const evaluation = declare({
  method: "POST",
  path: "/access/v1/evaluation",
  who: DECISIONS,
  says: "One decision (AuthZEN).",
  body: EvaluationBody,
  answer: json<Decision>("Decision"),
});

export const evaluations = declare({
  method: "POST",
  path: "/access/v1/evaluations",
  who: DECISIONS,
  says: "Several decisions by the same rules (AuthZEN).",
  body: EvaluationsBody,
  answer: json<Decision | Decisions>("DecisionOrDecisions"),
});

export const searchSubjects = declare({
  method: "POST",
  path: "/access/v1/search/subject",
  who: DECISIONS,
  says: "Who has an ability at a place (AuthZEN).",
  body: SubjectSearchBody,
  answer: json<Results<Entity>>("EntityResults"),
});

export const searchResources = declare({
  method: "POST",
  path: "/access/v1/search/resource",
  who: DECISIONS,
  says: "Where a subject has an ability (AuthZEN).",
  body: ResourceSearchBody,
  answer: json<Results<Entity>>("EntityResults"),
});

export const searchActions = declare({
  method: "POST",
  path: "/access/v1/search/action",
  who: DECISIONS,
  says: "What a subject may do at a place (AuthZEN).",
  body: ActionSearchBody,
  answer: json<Results<ActionName>>("ActionResults"),
});

export const exportDocument = declare({
  method: "GET",
  path: "/access/v1/document",
  who: EXPORTS,
  says: "The access document of the site, now or as of an instant.",
  query: AsOfQuery,
  answer: file("application/json"),
});

const FILES = ["text/csv", "application/json", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"];

export const exportEffective = declare({
  method: "GET",
  path: "/access/v1/export/effective",
  who: EXPORTS,
  says: "The effective access of a part of the site, row by row.",
  query: EffectiveQuery,
  answer: file(...FILES),
});

export const exportClasses = declare({
  method: "GET",
  path: "/access/v1/export/classes",
  who: EXPORTS,
  says: "The effective access of the whole site in class form.",
  query: ClassesQuery,
  answer: file(...FILES),
});
