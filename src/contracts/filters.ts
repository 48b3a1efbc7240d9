/** Filters of the table of pages that were given a name: for oneself, or for a space. */
import "reflect-metadata";
import { IsString, Matches, MaxLength } from "class-validator";
import { HasWords, IsLine, MayBeAbsent } from "./checks.ts";
import { declare, json, nothing } from "./declare.ts";

export class SaveFilterBody {
  @IsLine(80) @HasWords() name!: string;
  /** The address of the view after its path. */
  @IsString() @MaxLength(2000) @Matches(/^\?[\w\-.~%=&+:,!*'()]*$/) address!: string;
  /** For all who see this space; without it for oneself. */
  @MayBeAbsent() @IsString() @MaxLength(64) space?: string;
}

export interface SavedFilter {
  id: string;
  name: string;
  address: string;
  /** Title of the space it is for; null: for oneself. */
  space: string | null;
  mayDelete: boolean;
}

export interface FilterList {
  filters: SavedFilter[];
}

export interface FilterSaved {
  id: string;
}

export const listFilters = declare({
  method: "GET",
  path: "/api/filters",
  who: "member",
  says: "Named filters: one's own, and those of spaces one may see.",
  answer: json<FilterList>("FilterList"),
});

export const saveFilter = declare({
  method: "POST",
  path: "/api/filters",
  who: "member",
  says: "Gives a filter a name, for oneself or for a space.",
  body: SaveFilterBody,
  answer: json<FilterSaved>("FilterSaved"),
});

export const deleteFilter = declare({
  method: "DELETE",
  path: "/api/filters/{id}",
  who: "member",
  says: "Drops a named filter.",
  answer: nothing,
});
