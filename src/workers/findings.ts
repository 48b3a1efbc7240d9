/** Looks through a text for what looks sensitive, beside the page: nobody who types waits for it. */
import type { PageBody } from "../core/content/index.ts";
import { type Finding, findingsIn, lookFor, passagesOf } from "../core/findings/index.ts";

export interface LookOrder {
  nth: number;
  body: PageBody;
  /** Words of the house that are looked for. */
  words: string[];
}

export interface Looked {
  nth: number;
  found: Finding[];
}

self.addEventListener("message", ({ data: { nth, body, words } }: MessageEvent<LookOrder>) => {
  const looked: Looked = { nth, found: findingsIn(passagesOf(body), lookFor(words)) };
  self.postMessage(looked);
});
