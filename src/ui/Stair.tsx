import { type AbilitySet, LEVELS, levelOf, levelWithin } from "../core/access/abilities.ts";
import styles from "./Stair.module.css";

const STEPS = [1, 2, 3, 4, 5];

interface Props {
  set: AbilitySet;
  /** A rule standing on this very place says so. */
  here?: boolean;
}

/** The stair glyph: five rising steps, filled up to the level; a hatched block for a custom mix; a dot where the rule stands here. */
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
        STEPS.map((step) => (
          <rect
            key={step}
            className={step <= filled ? styles.on : styles.off}
            x={(step - 1) * 4 + 0.5}
            y={13.5 - step * 2.4}
            width="3"
            height={step * 2.4}
          />
        ))
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
