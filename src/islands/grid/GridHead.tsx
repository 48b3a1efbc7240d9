import type { ReactNode } from "react";
import type { GridColumn } from "../../contracts/grid.ts";
import styles from "./grid.module.css";

const BASIC = ["public", "guests", "members"];

/** Where a column's viewpoint can be walked: one person, or the public; many people have no one pair of eyes. */
const walkAddress = (key: string): string | null => (key === "public" || key.startsWith("person:") ? `/eyes/${key}` : null);

function ColumnHead({ column, onRemove }: { column: GridColumn; onRemove(): void }) {
  const walk = walkAddress(column.key);
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
  onRemove(key: string): void;
}

export function GridHead({ columns, adding, onRemove }: Props) {
  return (
    <div role="row" tabIndex={-1} className={styles.headRow}>
      <div role="columnheader" tabIndex={-1} className={styles.treeHead}>
        Place
        {adding}
      </div>
      {columns.map((column) => (
        <ColumnHead key={column.key} column={column} onRemove={() => onRemove(column.key)} />
      ))}
    </div>
  );
}
