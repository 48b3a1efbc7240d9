/** Compares two versions of a page beside the page: nobody who reads waits for it. */
import type { PageBody } from "../core/content/index.ts";
import { type Compared, compareBodies } from "./compare/compare.ts";

export interface CompareOrder {
  nth: number;
  from: PageBody;
  to: PageBody;
}

export interface ComparedAnswer extends Compared {
  nth: number;
}

self.addEventListener("message", ({ data: { nth, from, to } }: MessageEvent<CompareOrder>) => {
  const answer: ComparedAnswer = { nth, ...compareBodies(from, to) };
  self.postMessage(answer);
});
