import { type AbilitySet, LEVELS, levelOf, levelWithin } from "../core/access/model/index.ts";
import styles from "./Stair.module.css";

const STEPS = [1, 2, 3, 4, 5];

interface Props {
  set: AbilitySet;
  /** A rule standing on this very place says so. */
  here?: boolean;
}

const WIDE = 4;
const HIGH = 2.4;
const FLOOR = 13.5;

/** The line up the first so many steps, from the floor and back to it: one stair, without a break. */
function stairUp(steps: number): string {
  const line = STEPS.slice(0, steps).map((step) => `V${FLOOR - step * HIGH}h${WIDE}`);
  return `M0.5 ${FLOOR}${line.join("")}V${FLOOR}Z`;
}

/** The stair glyph: one stair of five steps in outline, filled up to the level; a hatched block for a custom mix; a dot where the rule stands here. */
export function Stair({ set, here = false }: Props) {
  const level = levelOf(set);
  const filled = level ?? levelWithin(set);
  return (
    <svg className={styles.stair} viewBox="0 0 26 14" width="26" height="14" aria-hidden="true">
      {level === null ? (
        <g className={styles.mix}>
          <rect x="0.5" y="2.5" width="19" height="11" />
          <path d="M1 8l5-5M1 13L11 3M6 13l10-10M11 13l8-8M16 13l3-3" />
        </g>
      ) : (
        <>
          {filled > 0 && <path className={styles.on} d={stairUp(filled)} />}
          <path className={styles.off} d={stairUp(STEPS.length)} />
        </>
      )}
      {here && <circle className={styles.dot} cx="24" cy="11.5" r="2" />}
    </svg>
  );
}

/** The level in words: "Writer", or "Mix" for a set that is none of the levels. */
export function levelWord(set: AbilitySet): string {
  const level = levelOf(set);
  return level === null ? "Mix" : LEVELS[level];
}
