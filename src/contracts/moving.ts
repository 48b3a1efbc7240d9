/** Moving: where a page stands among the pages beside it. */
import "reflect-metadata";
import { IsOptional, IsString, MaxLength } from "class-validator";
import type { Made } from "./change.ts";
import { declare, json } from "./declare.ts";

export class ReorderBody {
  @IsString() @MaxLength(64) place!: string;
  /** The page beside it that it is to stand directly after; without one, before them all. */
  @IsOptional() @IsString() @MaxLength(64) after?: string | null;
}

/** Where a page stands among the pages beside it that the asker may see. */
export interface Standing {
  /** Counted from 1. */
  nth: number;
  of: number;
  /** What to put it after so that it stands one earlier or later; null where it is first or last, or may not be moved. */
  earlier: { after: string | null } | null;
  later: { after: string } | null;
}

export const reorder = declare({
  method: "POST",
  path: "/api/order",
  who: "member",
  says: "Gives a page another place among the pages beside it.",
  body: ReorderBody,
  answer: json<Made>("Made"),
});
