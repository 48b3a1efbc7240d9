import { LIFE_ACTS } from "../../core/lifecycle/index.ts";
import { ActButtons } from "../life/ActButtons.tsx";
import styles from "./grid.module.css";
import type { ShownRow } from "./rows.ts";

/** What can be done with the rows that are chosen; an act that one of them cannot have says so. */
export function ChosenRows({ rows, onClear }: { rows: ShownRow[]; onClear(): void }) {
  const some = LIFE_ACTS.filter((act) => rows.some((row) => row.acts.includes(act)));
  const off = Object.fromEntries(
    some.flatMap((act) => {
      const not = rows.filter((row) => !row.acts.includes(act)).length;
      return not > 0 ? [[act, `Not for ${not} of them.`]] : [];
    }),
  );
  return (
    <section className={styles.chosen} aria-label="Chosen rows">
      <strong>{rows.length} chosen</strong>
      <ActButtons acts={some} places={rows.map(({ id }) => id)} off={off} />
      <button type="button" className="button plain" onClick={onClear}>
        choose none
      </button>
    </section>
  );
}
