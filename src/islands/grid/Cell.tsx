import type { GridCell, GridColumn } from "../../contracts/grid.ts";
import { describeSet, isOutside, readViewpoint } from "../../core/access/model/index.ts";
import { levelWord, Stair } from "../../ui/Stair.tsx";
import styles from "./grid.module.css";

interface Props {
  cell: GridCell | null;
  after: GridCell | undefined;
  column: GridColumn;
}

const outsideColumn = (key: string): boolean => {
  const viewpoint = readViewpoint(key);
  return viewpoint !== null && isOutside(viewpoint);
};

/** "Reader, 6 of 60 have more, by a rule that stands here", for those who hear the grid. */
export function cellWords(cell: GridCell, column: GridColumn): string {
  const more = cell.more > 0 ? `, ${cell.more} of ${column.people} have more` : "";
  return `${column.name}: ${describeSet(cell.set)}${more}${cell.here ? ", a rule stands here" : ""}`;
}

function Words({ cell, column }: { cell: GridCell; column: GridColumn }) {
  return (
    <>
      <span className={cell.set === 0 ? styles.nothing : undefined}>{cell.set === 0 ? "–" : levelWord(cell.set)}</span>
      {cell.more > 0 && column.people > 1 && (
        <span className={styles.more} title={`${cell.more} of ${column.people} have more`}>
          +{cell.more}
        </span>
      )}
    </>
  );
}

/** One cell: the effective level, and what it would become. */
export function Cell({ cell, after, column }: Props) {
  if (!cell)
    return (
      <span className={styles.unknown} title="Knowing what others can do here needs Keeper, or oversight.">
        ·
      </span>
    );
  const outside = outsideColumn(column.key) && (after ?? cell).set !== 0;
  if (!after) {
    return (
      <span className={outside ? styles.outsideCell : styles.level}>
        <Stair set={cell.set} here={cell.here} />
        <Words cell={cell} column={column} />
      </span>
    );
  }
  const loses = (cell.set & ~after.set) !== 0;
  return (
    <span className={styles.change} data-loses={loses}>
      <span className={styles.was} title={`Now: ${describeSet(cell.set)}`}>
        <Stair set={cell.set} />
      </span>
      <span aria-hidden="true">→</span>
      <span className="unseen">would become</span>
      <span className={outside ? styles.outsideCell : styles.level}>
        <Words cell={after} column={column} />
      </span>
    </span>
  );
}
