/**
 * The states of pages, bulletins and spaces, and the only ways from one to another (lifecycle.md, "States and acts").
 * Whatever path an edit of a state comes by, it leads along this table or nowhere.
 */
import type { PageState, PlaceKind, StateBefore } from "./document.ts";

/** Every state, in the order of a page's life. */
export const STATES = ["draft", "scheduled", "live", "archived", "binned"] as const satisfies readonly PageState[];
/** What an archived or binned page can have been before. */
export const STATES_BEFORE = ["live", "draft", "scheduled"] as const satisfies readonly StateBefore[];

/** A state with what it remembers. An absent `was` of what is archived or binned means `live` (section 11). */
export interface StateMark {
  state: PageState;
  was?: StateBefore;
  binnedFrom?: "archived";
}

/** The mark a place bears, without anything else. */
export const markOf = ({ state, was, binnedFrom }: StateMark): StateMark => ({
  state,
  ...(was ? { was } : {}),
  ...(binnedFrom ? { binnedFrom } : {}),
});

export const sameMark = (a: StateMark, b: StateMark): boolean =>
  a.state === b.state && (a.was ?? "live") === (b.was ?? "live") && (a.binnedFrom ?? null) === (b.binnedFrom ?? null);

/** Acts that change a state. */
export const STATE_ACTS = ["publish", "schedule", "unschedule", "takeDown", "archive", "unarchive", "bin", "restore"] as const;
export type StateAct = (typeof STATE_ACTS)[number];

const isPage = (kind: PlaceKind): boolean => kind === "page" || kind === "bulletin";

/** What a page was before, as it is remembered; spaces remember nothing. */
const remembering = (kind: PlaceKind, was: StateBefore): { was?: StateBefore } => (isPage(kind) ? { was } : {});

/** Where coming back leads: exactly to what was left, but for what was scheduled, which is a draft without its schedules. */
const cameFrom = (kind: PlaceKind, { was = "live" }: StateMark): StateMark =>
  isPage(kind) ? { state: was === "scheduled" ? "draft" : was } : { state: "live" };

/** The mark that an act leads to from another, for a kind of place; null where it leads nowhere. */
export function leadsTo(act: StateAct, kind: PlaceKind, from: StateMark): StateMark | null {
  const { state, was = "live", binnedFrom } = from;
  if (kind === "site") return null;
  const gone = state === "archived" || state === "binned";
  switch (act) {
    case "publish":
      return isPage(kind) && (state === "draft" || state === "scheduled") ? { state: "live" } : null;
    case "schedule":
      return isPage(kind) && state === "draft" ? { state: "scheduled" } : null;
    case "unschedule":
      return isPage(kind) && state === "scheduled" ? { state: "draft" } : null;
    case "takeDown":
      return isPage(kind) && state === "live" ? { state: "draft" } : null;
    case "archive":
      return gone ? null : { state: "archived", ...remembering(kind, state) };
    case "unarchive":
      return state === "archived" ? cameFrom(kind, from) : null;
    case "bin":
      if (state === "binned") return null;
      if (state === "archived") return { state: "binned", ...remembering(kind, was), binnedFrom: "archived" };
      return { state: "binned", ...remembering(kind, state) };
    case "restore":
      if (state !== "binned") return null;
      return binnedFrom ? { state: "archived", ...remembering(kind, was) } : cameFrom(kind, from);
  }
}

/** The act that leads from one mark to another, or null where none does. */
export const actBetween = (kind: PlaceKind, from: StateMark, to: StateMark): StateAct | null =>
  STATE_ACTS.find((act) => {
    const there = leadsTo(act, kind, from);
    return there !== null && sameMark(there, to);
  }) ?? null;

/**
 * The mark to go back to from where an edit of a state led, or null where there is no way back: what was scheduled comes
 * back as a draft, what was archived or binned remembers what it is now (lifecycle.md, "Taking back").
 */
export function wayBack(from: StateMark, to: StateMark): StateMark | null {
  // What a page remembers, a space lets fall: an edit made to it leads to the mark that its kind bears.
  const back =
    from.state === "scheduled"
      ? leadsTo("unschedule", "page", from)
      : from.state === "archived" && to.state !== "binned"
        ? leadsTo("archive", "page", to)
        : from.state === "binned"
          ? leadsTo("bin", "page", to)
          : markOf(from);
  return back && !sameMark(back, to) ? back : null;
}
