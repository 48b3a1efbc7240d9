/** What became of some of Brinehaven's pages: binned, archived with what is below them, marked with how far they are. */
import type { Edit } from "../core/access/model/index.ts";
import type { LifeAct } from "../core/lifecycle/index.ts";
import type { DemoPage } from "./pages.ts";

export interface LifeEvent {
  daysAgo: number;
  maker: string;
  note: string;
  acts?: LifeAct[];
  edits?: Edit[];
}

const READINESS: Record<string, string[]> = {
  quays: ["outline", "checked on the quay", "signed off"],
  dredging: ["to be measured", "measured"],
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
