/** Tokens, and access documents that come back. */

import type { Ceilings, HouseRules } from "../core/access/model/index.ts";
import type { Made } from "./change.ts";
import { declare, file, json, NoQuery, nothing } from "./declare.ts";
import type { Named } from "./people.ts";
import "reflect-metadata";
import { ArrayMinSize, IsArray, IsIn, IsObject, IsOptional } from "class-validator";
import { LIMITS } from "../core/words.ts";
import type { Preview } from "./change.ts";
import { HasWords, IsInstant, IsLine } from "./checks.ts";
import { ActingBody } from "./rules.ts";
import { TOKEN_SCOPES, type TokenScope } from "./tokens.ts";

export class TokenBody {
  @IsLine(LIMITS.name) @HasWords() name!: string;
  @IsArray() @ArrayMinSize(1) @IsIn(TOKEN_SCOPES, { each: true }) scopes!: TokenScope[];
  @IsOptional() @IsInstant() until?: string;
}

/** An access document, as it was exported and edited; what is wrong in it is told by the path it stands at. */
export class DocumentBody {
  @IsObject() document!: object;
}

export class ApplyDocumentBody extends ActingBody {
  @IsObject() document!: object;
}

/** A token as it is listed: never the token itself. */
export interface TokenView {
  id: string;
  name: string;
  scopes: string[];
  madeBy: string;
  madeAt: string;
  until: string | null;
  usedAt: string | null;
  withdrawnAt: string | null;
}

/** What bringing in an access document would do. Without errors and without a preview there is nothing to change. */
export interface DocumentPlan {
  errors: { path: string; message: string }[];
  sentences: string[];
  preview: Preview | null;
}

/** A token as it is shown once. */
export interface MadeToken {
  id: string;
  token: string;
}

export type TokenViews = TokenView[];

export const planDocument = declare({
  method: "POST",
  path: "/api/document/plan",
  who: "member",
  says: "What bringing in an access document would change and do; changes nothing.",
  body: DocumentBody,
  answer: json<DocumentPlan>("DocumentPlan"),
});

export const applyDocument = declare({
  method: "POST",
  path: "/api/document/apply",
  who: "member",
  says: "Brings in an access document as one change.",
  body: ApplyDocumentBody,
  answer: json<Made>("Made"),
});

export const listTokens = declare({
  method: "GET",
  path: "/api/tokens",
  who: "member",
  says: "Tokens of programs, never the tokens themselves.",
  query: NoQuery,
  answer: json<TokenView[]>("TokenViews"),
});

export const makeToken = declare({
  method: "POST",
  path: "/api/tokens",
  who: "member",
  says: "Makes a token and shows it, this once.",
  body: TokenBody,
  answer: json<MadeToken>("MadeToken"),
});

export const withdrawToken = declare({
  method: "DELETE",
  path: "/api/tokens/{id}",
  who: "member",
  says: "Withdraws a token.",
  query: NoQuery,
  answer: nothing,
});

/** A mail as it was sent, or would be. */
export interface OutboxMail {
  id: string;
  to: string;
  subject: string;
  body: string;
  at: string;
  state: "sent" | "kept";
}

export interface Outbox {
  /** Whether something sends mail; where nothing does, it is kept here. */
  sends: boolean;
  mails: OutboxMail[];
  /** How many older ones there are. */
  more: number;
  /** Mail that waits to be sent, and mail that was given up. */
  waiting: number;
  failed: number;
}

export const readOutbox = declare({
  method: "GET",
  path: "/api/outbox",
  who: "member",
  says: "Mail as it was or would be sent, the newest first; for site keepers.",
  answer: json<Outbox>("Outbox"),
});

export const readMail = declare({
  method: "GET",
  path: "/api/outbox/{id}",
  who: "member",
  says: "One mail as a file that mail programs open; for site keepers.",
  answer: file("message/rfc822"),
});

/** The house rules as they are, and the ceilings of the site. */
export interface HouseRulesView {
  rules: HouseRules;
  ceilings: Required<Ceilings>;
  site: Named;
}

export const readHouse = declare({
  method: "GET",
  path: "/api/house-rules",
  who: "member",
  says: "The house rules and the ceilings of the site; for site keepers.",
  answer: json<HouseRulesView>("HouseRulesView"),
});
