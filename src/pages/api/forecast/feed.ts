import { makeFeed as makeContract, readFeed as readContract, withdrawFeed as withdrawContract } from "../../../contracts/feed.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { makeFeed, readFeed, withdrawFeed } from "../../../server/services/forecast/feed.ts";

export const GET = serve(readContract, ({ me }) => readFeed(me));
export const POST = serve(makeContract, ({ body, me }) => makeFeed(me, body));
export const DELETE = serve(withdrawContract, ({ me }) => withdrawFeed(me));
