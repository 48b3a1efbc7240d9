import { ChevronRight } from "lucide-react";
import { PARTS, type PageCounts, type Part } from "../../contracts/pages.ts";
import styles from "./pages.module.css";

export const PART_NAMES: Record<Part, string> = { drafts: "Drafts", scheduled: "Scheduled", live: "Live", archive: "Archive", bin: "Bin" };

/** So many ticks at most: beyond, one stands for several. */
const MOST_TICKS = 12;

/** The line of life: how many pages are where, each a filter, with ticks for what came there this week. */
export function LineOfLife({ counts, part, onPart }: { counts: PageCounts | null; part: Part | ""; onPart(part: Part | ""): void }) {
  return (
    <nav className={styles.line} aria-label="Parts">
      {(Object.keys(PARTS) as Part[]).map((it, i) => {
        const { count = 0, week = 0 } = counts?.parts.find((known) => known.part === it) ?? {};
        return (
          <span key={it}>
            {i > 0 && <ChevronRight size={15} aria-hidden="true" />}
            <button
              type="button"
              aria-pressed={part === it}
              onClick={() => onPart(part === it ? "" : it)}
              title={week > 0 ? `${week} came here this week` : undefined}
            >
              {PART_NAMES[it]} <b>{counts ? count.toLocaleString("en") : "…"}</b>
              <i
                aria-hidden="true"
                className={styles.ticks}
                data-count={Math.min(week, MOST_TICKS)}
                style={{ "--ticks": Math.min(week, MOST_TICKS) } as React.CSSProperties}
              />
            </button>
          </span>
        );
      })}
      <a className={styles.reads} href="/reads">
        Reads
      </a>
      <a className={styles.bench} href="/workbench">
        On your workbench <b>{counts ? counts.onBench.toLocaleString("en") : "…"}</b>
      </a>
    </nav>
  );
}
