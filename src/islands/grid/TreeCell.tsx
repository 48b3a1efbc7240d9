import { ChevronDown, ChevronRight, Newspaper } from "lucide-react";
import type { CSSProperties } from "react";
import { STATE_MARKS } from "../../ui/states.ts";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";

const OUTSIDE = { public: "Outsiders can read this", guests: "Some guests can read this", none: undefined };

/** The tree's side of a row: the outside edge, the double bar of fences, indent, a break where it starts fresh, the title. */
export function TreeCell({ row, onToggle }: { row: ShownRow; onToggle(): void }) {
  const bars = row.enclosed.slice(-2);
  return (
    <>
      <span className={styles.edge} data-outside={row.outside} title={OUTSIDE[row.outside]} />
      <span className={styles.fences} title={bars.length > 0 ? `Inside a ${bars.at(-1)} fence` : undefined}>
        {bars.map((kind, i) => (
          <i key={i} data-kind={kind} />
        ))}
      </span>
      <span className={styles.indent} style={{ "--depth": Math.min(row.depth, 12) } as CSSProperties}>
        {row.fresh && <span className={styles.fresh} title="Starts fresh: what is granted above stops here" />}
      </span>
      {row.hasInside ? (
        <button
          type="button"
          tabIndex={-1}
          className={styles.toggle}
          onClick={(event) => {
            // Folding is not choosing: the row's slip stays as it is, and the keys go on from the row's title.
            event.stopPropagation();
            onToggle();
            event.currentTarget.closest<HTMLElement>("[role=gridcell]")?.focus();
          }}
          aria-label={row.isOpen ? `Close ${row.title}` : `Open ${row.title}`}
        >
          {row.isOpen ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      ) : (
        <span className={styles.toggle} />
      )}
      {row.kind === "bulletin" && <Newspaper className={styles.kind} size={13} aria-label="Bulletin" />}
      <span className={styles.title} data-kind={row.kind} data-context={!row.matches} dir="auto">
        {row.title || <em>a place you cannot see</em>}
      </span>
      {STATE_MARKS[row.state] && <span className={styles.state}>{STATE_MARKS[row.state]}</span>}
      {row.fences.map((kind) => (
        <span key={kind} className={styles.fenceWord}>
          {kind} fence
        </span>
      ))}
      {row.fresh && <span className={styles.fenceWord}>fresh</span>}
    </>
  );
}
