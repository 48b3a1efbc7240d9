/** On how many pages somebody has which level, as five small bars: who has much stands out. */
import type { Levels } from "../../contracts/people.ts";
import { LEVELS, type Level } from "../../core/access/model/index.ts";
import styles from "./people.module.css";

const STEPS: Level[] = [1, 2, 3, 4, 5];

const wordsOf = (levels: Levels): string =>
  STEPS.filter((level) => levels[level] > 0)
    .map((level) => `${LEVELS[level]} on ${levels[level].toLocaleString("en")} ${levels[level] === 1 ? "page" : "pages"}`)
    .reverse()
    .join(", ") || "nothing on any page";

/** Heights grow with the number of digits: one page is seen beside ten thousand. */
const heightOf = (count: number): number => (count === 0 ? 0 : 3 + Math.min(17, Math.round(Math.log10(count) * 6)));

export function LevelBars({ levels }: { levels: Levels }) {
  const highest = STEPS.findLast((level) => levels[level] > 0);
  const words = wordsOf(levels);
  return (
    <span className={styles.levels} title={words}>
      <span className={styles.bars} role="img" aria-label={words}>
        {STEPS.map((level) => (
          <i key={level} data-highest={level === highest} style={{ height: heightOf(levels[level]) }} />
        ))}
      </span>
      <span>
        {highest === undefined ? "Nothing" : LEVELS[highest]}
        {highest !== undefined && <small> on {levels[highest].toLocaleString("en")}</small>}
      </span>
    </span>
  );
}
