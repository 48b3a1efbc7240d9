/** What of Outside is looked at, as it stands in the address. */

import { CRAWL_KINDS, type CrawlKind } from "../../contracts/crawl.ts";
import { GUEST_SHOWS, GUEST_SORTS, type GuestShow, type GuestSort } from "../../contracts/guests.ts";
import { IDLE_KINDS, type IdleKind } from "../../contracts/idle.ts";
import { FINDING_KINDS, type FindingKind } from "../../core/findings/index.ts";

export const PARTS = {
  public: "Public",
  guests: "Guests",
  passes: "Passes",
  crawl: "What a crawler finds",
  findings: "Findings",
  compare: "Compare viewpoints",
  idle: "Idle rules",
} as const;
export type Part = keyof typeof PARTS;
export const SHOWS = { new: "Not settled", meant: "Meant to be outside", all: "All" } as const;
export type Show = keyof typeof SHOWS;

export interface OutsideState {
  part: Part;
  show: Show;
  space: string;
  guests: GuestShow;
  guestSort: GuestSort;
  /** Whose eyes are compared, and as of when; empty: now. */
  a: string;
  b: string;
  at: string;
  /** Which kind of idle rules; empty: all. */
  kind: IdleKind | "";
  /** Which kind of findings, empty: all; and whether those that were set aside. */
  finding: FindingKind | "";
  aside: boolean;
  /** Of what a crawler finds, which; empty: all. */
  crawled: CrawlKind | "";
}

export function read(): OutsideState {
  const query = new URLSearchParams(window.location.search);
  const text = (name: string) => query.get(name) ?? "";
  const [part, show] = [text("part") as Part, text("show") as Show];
  return {
    part: part in PARTS ? part : "public",
    show: show in SHOWS ? show : "new",
    space: text("space"),
    guests: GUEST_SHOWS.find((it) => it === text("guests")) ?? "in",
    guestSort: GUEST_SORTS.find((it) => it === text("sort")) ?? "use",
    a: text("a") || "public",
    b: text("b") || "members",
    at: text("at"),
    finding: FINDING_KINDS.find((it) => it === text("finding")) ?? "",
    aside: text("aside") === "yes",
    crawled: CRAWL_KINDS.find((it) => it === text("crawled")) ?? "",
    kind: IDLE_KINDS.find((it) => it === text("kind")) ?? "",
  };
}

/** What of it goes to the server. */
export const filterOf = ({ show, space }: OutsideState): { show?: "new" | "meant"; space?: string } => ({
  ...(show === "all" ? {} : { show }),
  ...(space === "" ? {} : { space }),
});

export const comparedOf = ({ a, b, at }: OutsideState): { a: string; b: string; at?: string } => ({ a, b, ...(at === "" ? {} : { at }) });

export function written(state: OutsideState): string {
  const { part, show, space, guests, guestSort } = state;
  const of: Record<Part, Record<string, string>> = {
    public: { ...(show === "new" ? {} : { show }), ...(space === "" ? {} : { space }) },
    guests: { ...(guests === "in" ? {} : { guests }), ...(guestSort === "use" ? {} : { sort: guestSort }) },
    passes: {},
    crawl: { ...(state.crawled === "" ? {} : { crawled: state.crawled }), ...(space === "" ? {} : { space }) },
    compare: { ...comparedOf(state) },
    findings: {
      ...(state.finding === "" ? {} : { finding: state.finding }),
      ...(state.aside ? { aside: "yes" } : {}),
      ...(space === "" ? {} : { space }),
    },
    idle: state.kind === "" ? {} : { kind: state.kind },
  };
  const query = new URLSearchParams({ ...(part === "public" ? {} : { part }), ...of[part] });
  return query.size > 0 ? `?${query}` : window.location.pathname;
}
