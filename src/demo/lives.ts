/** What became of some of Brinehaven's pages: binned, archived with what is below them, marked with how far they are. */
import type { Edit, SpaceContents } from "../core/access/model/index.ts";
import type { LedgerAct } from "../core/ledger/index.ts";
import type { LifeAct } from "../core/lifecycle/index.ts";
import type { DemoPage } from "./pages.ts";

export interface LifeEvent {
  daysAgo: number;
  maker: string;
  note: string;
  acts?: LifeAct[];
  edits?: Edit[];
  /** What its entry is called; absent: by its acts, or marks. */
  act?: LedgerAct;
}

const READINESS: Record<string, string[]> = {
  quays: ["outline", "checked on the quay", "signed off"],
  dredging: ["to be measured", "measured"],
};

/** What readers find in Quay Operations; one page is listed twice, since it stands below another. */
const CONTENTS: SpaceContents = {
  entries: [
    { page: "quayhome" },
    { heading: "Every shift" },
    { page: "shiftbook" },
    { page: "cranes" },
    { heading: "Berths" },
    { page: "berthplan" },
    { page: "berthrequests" },
    { heading: "All over the harbour" },
    { link: "/read/pilotage-tides", words: "Pilotage and tides" },
    { link: "/read/harbour-notices", words: "Harbour notices" },
    { heading: "Goods and gear" },
  ],
  rest: true,
};

const HANDBOOK = { name: "Staff Handbook", address: "staff-handbook", purpose: "How we work here: hours, leave, travel, learning." };

const ENVIRONS = {
  name: "Environment & Fisheries",
  address: "environment-fisheries",
  purpose: "Water, birds, fish and the people who live from them.",
};

const PAGES: Record<string, string> = {
  berthplan: "signed off",
  berth5works: "outline",
  cranes: "checked on the quay",
  dangerous: "signed off",
  survey: "measured",
  tender: "to be measured",
};

/** Acts and marks over the last months; those of single pages that their texts tell of come last. */
export function livesOf(pages: readonly DemoPage[], keeperOf: (page: DemoPage) => string): LifeEvent[] {
  const gone = pages.flatMap((page, i): LifeEvent[] => {
    if (page.state !== "archived" && page.state !== "binned") return [];
    const act = page.state === "archived" ? "archive" : "bin";
    return [{ daysAgo: 8 - i / 1_000, maker: keeperOf(page), note: "", acts: [{ act, places: [page.id], below: "along" }] }];
  });
  const marks = (ids: string[]): Edit[] => ids.map((place) => ({ kind: "readiness", place, from: null, to: PAGES[place] ?? null }));
  return [
    { daysAgo: 97, maker: "wanda", note: "The machine is gone.", acts: [{ act: "bin", places: ["faxes"] }] },
    { daysAgo: 90, maker: "maren", note: "", edits: [{ kind: "readinessWords", place: "quays", from: [], to: READINESS.quays ?? [] }] },
    {
      daysAgo: 88,
      maker: "sorin",
      note: "",
      edits: [{ kind: "readinessWords", place: "dredging", from: [], to: READINESS.dredging ?? [] }],
    },
    {
      daysAgo: 70,
      maker: "ines",
      note: "Who comes and goes as a pilot, the pilots know first.",
      edits: [{ kind: "managers", group: "pilots", from: [], to: [{ person: "anouk", guests: false }] }],
    },
    {
      daysAgo: 60,
      maker: "maren",
      note: "",
      edits: [{ kind: "contents", place: "quays", remove: { entries: [], rest: true }, put: CONTENTS }],
    },
    {
      daysAgo: 50,
      maker: "greta",
      note: "What was agreed before is asked for again and again.",
      edits: [{ kind: "settings", place: "handbook", remove: HANDBOOK, put: { ...HANDBOOK, history: true } }],
    },
    {
      daysAgo: 42,
      maker: "noor",
      note: "All about cruise days in one section.",
      acts: [{ act: "move", places: ["crowdwatch"], to: "visitors" }],
    },
    {
      daysAgo: 40,
      maker: "elif",
      note: "Counts of fish are quoted as news before they are checked.",
      edits: [{ kind: "settings", place: "environs", remove: ENVIRONS, put: { ...ENVIRONS, indexed: false } }],
    },
    {
      daysAgo: 12,
      maker: "anouk",
      note: "One set ashore is enough; nobody reads how.",
      acts: [{ act: "bin", places: ["papercharts"], below: "along" }],
    },
    ...gone,
    { daysAgo: 7, maker: "maren", note: "", edits: marks(["berthplan", "berth5works", "cranes", "dangerous"]) },
    { daysAgo: 6, maker: "sorin", note: "", edits: marks(["survey", "tender"]) },
  ];
}
