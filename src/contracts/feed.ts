/** The forecast as a calendar: a personal address whose secret is shown once. */
import "reflect-metadata";
import { IsBoolean } from "class-validator";
import { declare, json, nothing } from "./declare.ts";

export class FeedBody {
  /** Whether pages and people are named in it: whoever has the address reads them. */
  @IsBoolean() titles!: boolean;
}

export interface FeedState {
  /** Null: there is none. */
  feed: { madeAt: string; titles: boolean; usedAt: string | null } | null;
}

/** The address, shown this once. */
export interface MadeFeed {
  address: string;
}

export const readFeed = declare({
  method: "GET",
  path: "/api/forecast/feed",
  who: "member",
  says: "Whether the asker has a calendar of the forecast; for site keepers.",
  answer: json<FeedState>("FeedState"),
});

export const makeFeed = declare({
  method: "POST",
  path: "/api/forecast/feed",
  who: "member",
  says: "Makes the asker's calendar of the forecast; one made before works no more.",
  body: FeedBody,
  answer: json<MadeFeed>("MadeFeed"),
});

export const withdrawFeed = declare({
  method: "DELETE",
  path: "/api/forecast/feed",
  who: "member",
  says: "Withdraws the asker's calendar of the forecast.",
  answer: nothing,
});
