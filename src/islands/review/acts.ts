/** What can be done to the rows of the queue, each with its key; what cannot says why. */
import type { QueueRow } from "../../contracts/review.ts";
import { openMany } from "../jobs/opened.ts";
import { openAct } from "../life/opened.ts";
import type { Settling } from "./settling.ts";

export interface RowAct {
  key: string;
  name: string;
  /** Why it cannot be done; empty where it can. */
  off: string;
  run(): void;
}

interface Doing {
  rows: readonly QueueRow[];
  settle(settling: Settling): void;
  ask(what: "setAside" | "hand"): void;
}

const NONE = "There is nothing here to settle.";

/** Takes pages away through the sheet of the act, which says what it breaks. */
function retire(act: "archive" | "bin", rows: readonly QueueRow[]): void {
  const places = rows.map(({ id }) => id);
  if (places.length === 1) openAct({ act, places });
  else openMany({ act, places });
}

export function actsFor({ rows, settle, ask }: Doing): RowAct[] {
  const none = rows.length === 0 ? NONE : "";
  const some = (fits: (row: QueueRow) => boolean, why: string) => none || (rows.some(fits) ? "" : why);
  const [only] = rows;
  const revised = rows.some(({ revisedSince }) => revisedSince);
  const mayAct = (act: "archive" | "bin") => some(({ acts }) => acts.includes(act), "That needs Publisher here, or keeping it.");
  const answers = ({ mayConfirm, flags }: QueueRow) => mayConfirm || flags.some(({ maySettle }) => maySettle);
  return [
    {
      key: "c",
      name: "Confirm",
      off: some(({ mayConfirm }) => mayConfirm, "Live pages are confirmed by their owner, or by Writers."),
      run: () => settle({ how: "confirmed", reason: "" }),
    },
    {
      key: "r",
      name: revised ? "It was revised" : "Revise …",
      off: none || (rows.length > 1 && !revised ? "One page is revised at a time." : some(answers, "That needs Writer.")),
      run: () =>
        revised
          ? settle({ how: "revised", reason: "" })
          : window.location.assign(`/write/${encodeURIComponent(only?.id ?? "")}?back=review`),
    },
    { key: "a", name: "Archive …", off: mayAct("archive"), run: () => retire("archive", rows) },
    { key: "b", name: "Bin …", off: mayAct("bin"), run: () => retire("bin", rows) },
    { key: "h", name: "Hand on …", off: some(answers, "It is for somebody else to answer."), run: () => ask("hand") },
    { key: "s", name: "Set aside …", off: some(answers, "It is for somebody else to answer."), run: () => ask("setAside") },
  ];
}
