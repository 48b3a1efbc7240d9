/** Settling rows of the queue: by one key each, for the row one is on or for all that are chosen. */
import { useMutation } from "@tanstack/react-query";
import { handFlags, type QueueRow, type ReviewDone, settleReview } from "../../contracts/review.ts";
import type { FlagOutcome } from "../../core/access/model/index.ts";
import { tray } from "../change/store.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";

export type Settling = { how: FlagOutcome; reason: string; until?: string } | { how: "hand"; to: string; name: string; note: string };

const PAST: Readonly<Record<Settling["how"], string>> = {
  confirmed: "confirmed as it is",
  revised: "settled as revised",
  setAside: "set aside",
  hand: "handed on",
};

const orderOf = ({ id, flags, due }: QueueRow) => ({
  place: id,
  flags: flags.filter(({ outcome }) => outcome === null).map((flag) => flag.id),
  due: due !== null,
});

const what = (rows: readonly QueueRow[], done: number): string =>
  done === 1 && rows.length === 1 ? (rows[0]?.title ?? "") : `${done} pages`;

/** `onDone`: what could not be done, page by page. */
export function useSettling(onDone: (skipped: ReviewDone["skipped"]) => void) {
  return useMutation({
    mutationFn: ({ rows, settling }: { rows: readonly QueueRow[]; settling: Settling }) => {
      const order = rows.map(orderOf);
      return settling.how === "hand"
        ? ask(handFlags, { body: { rows: order, to: settling.to, note: settling.note } })
        : ask(settleReview, {
            body: { rows: order, outcome: settling.how, reason: settling.reason, ...(settling.until ? { until: settling.until } : {}) },
          });
    },
    onSuccess: async ({ seq, done, skipped }, { rows, settling }) => {
      if (seq !== null) {
        const words = `${what(rows, done)} ${done === 1 ? "is" : "are"} ${PAST[settling.how]}`;
        tray.done(seq, words, true);
        say(`${words}.`);
      }
      onDone(skipped);
      // The next key counts as soon as the queue is there; what else is on the screen follows.
      await queries.invalidateQueries({ queryKey: ["review"] });
      void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "review" });
    },
  });
}
