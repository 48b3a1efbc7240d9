/** Finding pages by their words, and places by their titles. */
import { declare, json } from "./declare.ts";
import "reflect-metadata";
import { IsOptional, IsString, Matches, MaxLength } from "class-validator";
import type { ReaderLink } from "./reading.ts";

export class SearchQuery {
  @IsString() @MaxLength(100) q!: string;
  /** In this space alone. */
  @IsOptional() @IsString() @MaxLength(64) in?: string;
}

/** Words to search for, and which page of what is found. */
export class FullSearchQuery {
  @IsString() @MaxLength(200) q!: string;
  @IsOptional() @Matches(/^[1-9]\d?$/) page?: string;
}

export interface FoundPlace extends ReaderLink {
  kind: "space" | "page" | "bulletin";
  /** Empty where the asker may not know of it. */
  space: string;
  state: string;
}

/** A page or space found by words of its title. */
/** One page of what a search found. */
export interface FoundPages {
  /** How many are ranked; `more` says that there are others beyond these. */
  total: number;
  more: boolean;
  pages: number;
  /** Snippets hold the matching words between the characters U+0001 and U+0002. */
  hits: (FoundPlace & { snippet: string })[];
}

export type FoundPlaces = FoundPlace[];

export const search = declare({
  method: "GET",
  path: "/api/search",
  who: "anybody",
  says: "Pages that hold the words, best first, among those the asker may read.",
  query: FullSearchQuery,
  answer: json<FoundPages>("FoundPages"),
});

export const find = declare({
  method: "GET",
  path: "/api/find",
  who: "signedIn",
  says: "The first few places whose title has the words, among those the asker may see.",
  query: SearchQuery,
  answer: json<FoundPlace[]>("FoundPlaces"),
});
