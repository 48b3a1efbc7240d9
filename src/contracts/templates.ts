/** Templates: making them from pages, changing them, and what a page can be begun from. */
import "reflect-metadata";
import { IsBoolean, IsIn, IsOptional, IsString, MaxLength } from "class-validator";
import type { Blank } from "../core/content/index.ts";
import { LIMITS } from "../core/words.ts";
import { HasWords, IsLine, MayBeAbsent } from "./checks.ts";
import { declare, json, NoQuery, nothing } from "./declare.ts";
import type { Named } from "./people.ts";
import { BufferBody, type KeptAt, SaveBody, type SavedVersion, SpendingBody, type Started, type Written } from "./writing.ts";

/** So many pages a template has at most. */
export const MOST_TEMPLATE_PAGES = 30;

class TemplateBody {
  @IsLine(LIMITS.name) @HasWords() name!: string;
  /** What it is for, in a sentence. */
  @IsString() @MaxLength(LIMITS.note) about!: string;
}

export class MakeTemplateBody extends TemplateBody {
  /** The site, or a space, that it is for. */
  @IsString() @MaxLength(64) in!: string;
  /** The page it is made from; absent: it begins blank. */
  @MayBeAbsent() @IsString() @MaxLength(64) from?: string;
  /** Whether what is below that page comes along. */
  @IsBoolean() below!: boolean;
}

export class ChangeTemplateBody extends TemplateBody {
  /** Taken away, or put back. */
  @IsBoolean() gone!: boolean;
}

export class AddTemplatePageBody {
  /** The page of the template it is to stand under. */
  @IsString() @MaxLength(64) under!: string;
  @IsLine(LIMITS.title) @HasWords() title!: string;
}

export class ShiftTemplatePageBody {
  @IsIn(["earlier", "later"]) to!: "earlier" | "later";
}

export class TemplatesQuery {
  /** The site, a space or a page: what can be begun from there. */
  @IsString() @MaxLength(64) in!: string;
  /** Those that were taken away, for whoever may put them back. */
  @IsOptional() @IsIn(["yes"]) gone?: "yes";
}

export interface TemplateRow {
  id: string;
  name: string;
  about: string;
  /** Null: of the site. */
  space: Named | null;
  /** Titles of its pages, the first first. */
  pages: { id: string; title: string; depth: number }[];
  /** What is filled in when it is used. */
  blanks: Blank[];
}

export interface Templates {
  templates: TemplateRow[];
  /** Whether the place is the site. */
  ofSite: boolean;
  /** Whether the asker makes and changes those of this place. */
  mayChange: boolean;
}

export const listTemplates = declare({
  method: "GET",
  path: "/api/templates",
  who: "member",
  says: "What pages can be begun from at a place.",
  query: TemplatesQuery,
  answer: json<Templates>("Templates"),
});

export const makeTemplate = declare({
  method: "POST",
  path: "/api/templates",
  who: "member",
  says: "Makes a template, blank or from a page and what is below it.",
  body: MakeTemplateBody,
  answer: json<Started>("Started"),
});

export const changeTemplate = declare({
  method: "POST",
  path: "/api/templates/{id}",
  who: "member",
  says: "Calls a template otherwise, takes it away, or puts it back.",
  body: ChangeTemplateBody,
  answer: nothing,
});

export const addTemplatePage = declare({
  method: "POST",
  path: "/api/templates/{id}/pages",
  who: "member",
  says: "Adds a page to a template.",
  body: AddTemplatePageBody,
  answer: json<Started>("Started"),
});

export const readTemplatePage = declare({
  method: "GET",
  path: "/api/template-pages/{id}",
  who: "member",
  says: "A page of a template and the words kept on it, for whoever changes it.",
  query: NoQuery,
  answer: json<Written>("Written"),
});

export const saveTemplatePage = declare({
  method: "POST",
  path: "/api/template-pages/{id}",
  who: "member",
  says: "Saves a page of a template; refused over somebody's newer words.",
  body: SaveBody,
  answer: json<SavedVersion>("SavedVersion"),
});

export const shiftTemplatePage = declare({
  method: "POST",
  path: "/api/template-pages/{id}/shift",
  who: "member",
  says: "Puts a page of a template before or after the one beside it.",
  body: ShiftTemplatePageBody,
  answer: nothing,
});

export const removeTemplatePage = declare({
  method: "DELETE",
  path: "/api/template-pages/{id}",
  who: "member",
  says: "Takes a page out of a template, with what is below it.",
  answer: nothing,
});

export const keepTemplateBuffer = declare({
  method: "POST",
  path: "/api/template-pages/{id}/buffer",
  who: "member",
  says: "Keeps what is typed on a page of a template and not saved yet.",
  body: BufferBody,
  answer: json<KeptAt>("KeptAt"),
});

export const dropTemplateBuffers = declare({
  method: "DELETE",
  path: "/api/template-pages/{id}/buffer",
  who: "member",
  says: "Throws kept words away.",
  body: SpendingBody,
  answer: nothing,
});
