import { readCrawl as readContract, startCrawl as startContract } from "../../../contracts/crawl.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { startCrawl } from "../../../server/services/crawl/crawl.ts";
import { readCrawl } from "../../../server/services/crawl/found.ts";

export const GET = serve(readContract, ({ query, me }) => readCrawl(me, query));
export const POST = serve(startContract, ({ me }) => startCrawl(me));
