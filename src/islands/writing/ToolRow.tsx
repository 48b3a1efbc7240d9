import type { ReactNode } from "react";
import { TOOLS, type ToolName } from "./tools.ts";
import styles from "./writing.module.css";

export interface ToolState {
  on: boolean;
  /** Whether it does nothing where the cursor stands. */
  off: boolean;
}

interface Props {
  /** None: the editor has not come yet. */
  states?: Readonly<Record<ToolName, ToolState>>;
  onPress(name: ToolName): void;
  /** The tool the focus came to; null where it left. */
  onReach?(name: ToolName | null): void;
  children?: ReactNode;
}

export function ToolRow({ states, onPress, onReach, children }: Props) {
  return (
    <div className={styles.toolbar} role="toolbar" aria-label="Text">
      {TOOLS.map(({ name, icon: Icon }) => {
        const { on, off } = states?.[name] ?? { on: false, off: false };
        return (
          <button
            key={name}
            type="button"
            data-tool={name}
            aria-label={name}
            title={off ? `${name}: not here` : name}
            aria-pressed={on}
            // Not switched off as such: a control that had the focus must not lose it by what it does.
            aria-disabled={off}
            onFocus={() => onReach?.(name)}
            onBlur={() => onReach?.(null)}
            onClick={() => !off && onPress(name)}
          >
            <Icon size={16} />
          </button>
        );
      })}
      {children}
    </div>
  );
}
