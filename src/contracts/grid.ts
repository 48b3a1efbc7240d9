/** The grid: what is asked of it, and what it shows. */
import type { LifeActName } from "../core/lifecycle/index.ts";
import { IsInstant, MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import "reflect-metadata";
import { IsIn, IsOptional, IsString, Matches, MaxLength } from "class-validator";
import { type AbilitySet, type Level, type PageState, type PlaceKind, STATES } from "../core/access/model/index.ts";

/** What a grid can be filtered by, besides state and words. */
export const GRID_SHOWS = ["kept", "outside", "rules", "fenced"] as const;
export type GridShow = (typeof GRID_SHOWS)[number];

export class GridQuery {
  @IsOptional() @Matches(/^[\w:,+-]{0,800}$/) columns?: string;
  /** Places whose insides are wanted where not everything is sent at once. */
  @IsOptional() @Matches(/^[\w,-]{0,4000}$/) open?: string;
  /** What a large site is filtered by; a small one is sent whole. */
  @IsOptional() @IsIn(GRID_SHOWS) show?: GridShow;
  @IsOptional() @IsIn([...STATES]) state?: PageState;
  @IsOptional() @IsString() @MaxLength(100) words?: string;
  /** As of this instant, behind or ahead; absent: now. */
  @MayBeAbsent() @IsInstant() at?: string;
}

export interface GridFilter {
  show?: GridShow;
  state?: PageState;
  words?: string;
}

export interface GridCell {
  /** What all of them have, as a mask. */
  set: AbilitySet;
  /** The level this is exactly, or null for a custom mix. */
  level: Level | null;
  /** How many have more than that. */
  more: number;
  /** Whether a rule standing on this very place names them. */
  here: boolean;
  /** Whether any of them oversees the place. */
  oversight: boolean;
}

export interface GridRow {
  id: string;
  /** Row of the place above, -1 for the site. */
  parent: number;
  depth: number;
  kind: PlaceKind;
  /** Empty for a gap: a place above something one may see, that one may not see itself. */
  title: string;
  state: PageState;
  fresh: boolean;
  fences: ("read" | "write")[];
  /** Whether grants stand on the place itself. */
  rules: boolean;
  /** Who outside can read it: the public or a pass holder, or at least one guest. */
  outside: "public" | "guests" | "none";
  /** Whether the asker may change rules here. */
  editable: boolean;
  /** Acts that the asker can do to it. */
  acts: LifeActName[];
  /** How many places below are not in this answer: the row is opened to get them. */
  unsent: number;
  /** Whether it fits the filter itself; otherwise it is here for what is below. */
  fits: boolean;
  cells: (GridCell | null)[] | null;
}

export interface GridColumn {
  key: string;
  name: string;
  /** How many people the column stands for. */
  people: number;
  /** Whether a level can be chosen in it: there is a principal behind it. */
  settable: boolean;
  /** The highest level that can be chosen. */
  most: Level;
}

export interface Grid {
  seq: number;
  columns: GridColumn[];
  rows: GridRow[];
  /** How many places the asker may see in all. */
  places: number;
  /** Whether all of them are in `rows`, and filters are for the view; else the server filters. */
  whole: boolean;
  /** How many fit the filter, and how many of those there was no room for. */
  fit: number;
  unshown: number;
}

export const readGrid = declare({
  method: "GET",
  path: "/api/grid",
  who: "member",
  says: "The tree of places the asker may see, with what each viewpoint has there.",
  query: GridQuery,
  answer: json<Grid>("Grid"),
});
