/** What the keys of a row on the desk do: settle it at once, ask for what it takes, or lead on. */
import { useMutation } from "@tanstack/react-query";
import { answerApproval } from "../../contracts/approval.ts";
import { type DeskAct, type DeskHow, type DeskRow, readNotice, setDeskAside } from "../../contracts/desk.ts";
import { setFindingsAside } from "../../contracts/findings.ts";
import { planGuests } from "../../contracts/guests.ts";
import { goOnWithJob } from "../../contracts/jobs.ts";
import { meanOutside } from "../../contracts/outside.ts";
import { readPledge } from "../../contracts/pledges.ts";
import { handFlags, type ReviewDone, settleReview } from "../../contracts/review.ts";
import { tray } from "../change/store.ts";
import { openAct } from "../life/opened.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";

/** What is said before a row is settled: why, whom it is handed to, until when. */
export interface Saying {
  reason?: string;
  until?: string;
  to?: string;
}

/** Acts that something has to be said for first. */
export const ASKS: ReadonlySet<DeskHow["do"]> = new Set(["hand", "setReviewAside", "setFindingsAside", "letIn", "decline", "sendBack"]);

interface Order {
  row: DeskRow;
  how: DeskHow | { do: "later" };
  saying: Saying;
}

/** What of a review could not be settled. */
const leftOf = ({ seq, skipped }: ReviewDone): string => (seq === null ? (skipped[0]?.why ?? "Nothing of it was left to be settled.") : "");

async function settleRow({ row, how, saying }: Order): Promise<string> {
  const { reason = "", until, to = "" } = saying;
  switch (how.do) {
    case "confirm":
      return leftOf(await ask(settleReview, { body: { rows: [how.row], outcome: "confirmed", reason: "" } }));
    case "setReviewAside":
      return leftOf(await ask(settleReview, { body: { rows: [how.row], outcome: "setAside", reason, ...(until ? { until } : {}) } }));
    case "hand":
      return leftOf(await ask(handFlags, { body: { rows: [how.row], to, note: reason } }));
    case "meant":
      await ask(meanOutside, { body: { places: [how.place], meant: true } });
      return "";
    case "setFindingsAside":
      await ask(setFindingsAside, { body: { place: how.place, signs: how.signs, aside: true, reason } });
      return "";
    case "approve":
    case "sendBack":
      await ask(answerApproval, { params: { id: how.place }, body: { act: how.do, version: how.version, note: reason } });
      return "";
    case "goOn":
      await ask(goOnWithJob, { params: { id: how.job } });
      return "";
    case "read":
      await ask(readNotice, { params: { id: String(how.notice) } });
      return "";
    case "mend":
      return mend(how.pledge);
    case "later":
      await ask(setDeskAside, { body: { row: row.key, until: until ?? "" } });
      return "";
    case "endGuest":
      return endGuest(how.guest);
    default:
      return "";
  }
}

/** Ends a guest by the tray, where the ripple says what they lose. */
async function endGuest(guest: string): Promise<string> {
  const [plan] = await ask(planGuests, { body: { guests: [guest], act: "end", until: null } });
  if (!plan || plan.edits.length === 0) return plan?.why ?? "Nothing of it can be done.";
  tray.stageAll({ id: `person:${guest}`, title: plan.guest.name }, "person", plan.edits, plan.sentences);
  return "";
}

/** So many places are mended by one key; where a pledge does not hold at more, it still stands on the desk then. */
const MOST_MENDED = 12;

/** What went to the tray for each pledge that was mended since the desk was opened. */
const wished = new Map<string, string[]>();

/** What a row put into the tray, by the ids of its items there. */
export const stagedBy = (row: DeskRow): string[] =>
  row.acts.flatMap(({ how }) => {
    if (how.do === "stage") return `rule:${how.about.id}:${row.key}`;
    if (how.do === "endGuest") return `rule:person:${how.guest}:person`;
    return how.do === "mend" ? (wished.get(how.pledge) ?? []) : [];
  });

/** Mends a pledge by the tray: for each place where it does not hold, the best change for what it says. */
async function mend(pledge: string): Promise<string> {
  const { witnesses } = await ask(readPledge, { params: { id: pledge } });
  const wishes = witnesses.flatMap(({ place, mend: it }) => (it && "column" in it ? [{ place, wish: it }] : []));
  if (wishes.length === 0) return "No one wish mends it: look where it does not hold, and why.";
  const mended = wishes.slice(0, MOST_MENDED);
  for (const { place, wish } of mended) await tray.wish({ id: place.id, title: place.name }, wish);
  wished.set(
    pledge,
    mended.map(({ place }) => `wish:${place.id}`),
  );
  return tray.state.problem;
}

const PAST: Partial<Record<Order["how"]["do"], string>> = {
  confirm: "is confirmed as it is",
  setReviewAside: "is set aside",
  hand: "is handed on",
  meant: "is meant to be outside",
  setFindingsAside: "has its findings set aside",
  approve: "is approved",
  sendBack: "is sent back",
  goOn: "goes on",
  read: "was read",
  later: "is set aside for now",
  endGuest: "waits in the tray",
  mend: "has what mends it in the tray",
};

export function useDeskActs(onDone: () => void) {
  return useMutation({
    mutationFn: async (order: Order) => {
      const left = await settleRow(order);
      if (left !== "") throw new Error(left);
    },
    onSuccess: (_, { row, how }) => {
      say(`${row.place?.name ?? row.words} ${PAST[how.do] ?? "is settled"}.`);
      onDone();
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ["desk"] }),
  });
}

/** What is done at once, without a word to the server: leading on, the sheet of an act, the tray. True where that was all. */
export function doHere({ how }: DeskAct, row: DeskRow): boolean {
  if (how.do === "go") window.location.assign(how.address);
  else if (how.do === "life") openAct({ act: how.act, places: [how.place] });
  else if (how.do === "stage") {
    tray.stageAll({ id: how.about.id, title: how.about.name }, row.key, how.edits, [how.words]);
    say(`In the tray: ${how.words}.`);
  } else return false;
  return true;
}
