import type { ReactNode } from "react";
import type { GridColumn } from "../../contracts/grid.ts";
import styles from "./grid.module.css";

const BASIC = ["public", "guests", "members"];

/** Where a column's viewpoint can be walked: one person, real or imagined, or the public; many people have no one pair of eyes. */
const walkAddress = (key: string): string | null => (/^(public$|person:|(member|guest)\+)/.test(key) ? `/eyes/${key}` : null);

function ColumnHead({ column, walks, onRemove }: { column: GridColumn; walks: boolean; onRemove(): void }) {
  const walk = walks ? walkAddress(column.key) : null;
  return (
    <div role="columnheader" tabIndex={-1} className={styles.head} data-outside={column.key === "public" || column.key === "guests"}>
      <span title={column.name} dir="auto">
        {column.name}
      </span>
      {column.people > 1 && <small>{column.people}</small>}
      {walk && (
        <a href={walk} title={`Walk the knowledge base as ${column.name}`}>
          walk
        </a>
      )}
      {!BASIC.includes(column.key) && (
        <button type="button" onClick={onRemove} aria-label={`Remove the column ${column.name}`}>
          ×
        </button>
      )}
    </div>
  );
}

interface Props {
  columns: GridColumn[];
  /** The control that adds a column. */
  adding: ReactNode;
  /** Whether pages can be walked through these viewpoints: as they are now, not as of another instant. */
  walks: boolean;
  onRemove(key: string): void;
}

export function GridHead({ columns, adding, walks, onRemove }: Props) {
  return (
    <div role="row" tabIndex={-1} className={styles.headRow}>
      <div role="columnheader" tabIndex={-1} className={styles.treeHead}>
        Place
        {adding}
      </div>
      {columns.map((column) => (
        <ColumnHead key={column.key} column={column} walks={walks} onRemove={() => onRemove(column.key)} />
      ))}
    </div>
  );
}
