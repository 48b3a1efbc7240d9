/** The forecast: what opens or closes to whom by itself in the days to come. */
import "reflect-metadata";
import { IsIn } from "class-validator";
import type { Edit } from "../core/access/model/index.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Named } from "./people.ts";

export const FORECAST_DAYS = ["7", "30", "90"] as const;
export type ForecastDays = (typeof FORECAST_DAYS)[number];

export class ForecastQuery {
  @MayBeAbsent() @IsIn([...FORECAST_DAYS]) days?: ForecastDays;
}

export interface ForecastRow {
  at: string;
  what: "grant" | "pass" | "person" | "live" | "archive";
  /** "A grant on “Crane log” ends: João Pinto is Publisher". */
  sentence: string;
  place: Named | null;
  /** Why it will not happen, of what is set for an instant. */
  refused: string | null;
  /** Who gains and who loses, on top of what comes before it, in a line for each kind; null where that was not worked out. */
  effect: string[] | null;
  /** Whether outsiders or guests gain something. */
  opens: boolean;
  /** Pledges it breaks, as sentences. */
  breaks: string[];
  /** The change by which it does not come for four weeks more; null: it is no end of something. */
  later: { edit: Edit; words: string } | null;
}

export interface Forecast {
  from: string;
  to: string;
  rows: ForecastRow[];
  /** How many later ones there was no room for. */
  more: number;
}

export const readForecast = declare({
  method: "GET",
  path: "/api/forecast",
  who: "member",
  says: "What opens or closes to whom by itself in the coming days: ends of grants, passes and people's time, schedules. For site keepers.",
  query: ForecastQuery,
  answer: json<Forecast>("Forecast"),
});
