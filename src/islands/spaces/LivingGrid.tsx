/** Who could do what in a space: by each preset in small, and as it is chosen in full. */
import type { SpaceLook, SpaceRow } from "../../contracts/spaces.ts";
import { ADMIT, DISCUSS, GOVERN, PUBLISH, READ, REVISE } from "../../core/access/model/index.ts";
import { PRESET_ROWS, PRESETS, type Preset } from "../../core/access/presets/index.ts";
import { levelWord, Stair } from "../../ui/Stair.tsx";
import styles from "./spaces.module.css";

interface PresetsProps {
  chosen: Preset;
  look: SpaceLook | undefined;
  onChoose(preset: Preset): void;
}

/** One line a preset: what it says, and what the public, a guest and a member could do by it. */
export const Presets = ({ chosen, look, onChoose }: PresetsProps) => (
  <table className={styles.presets}>
    <thead>
      <tr>
        <th scope="col">
          <span className="unseen">Preset</span>
        </th>
        {(look?.presets.openHouse ?? []).map(({ key, name }) => (
          <th key={key} scope="col">
            {name}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {PRESETS.map((preset) => (
        <tr key={preset} data-chosen={preset === chosen}>
          <th scope="row">
            <label>
              <input type="radio" name="preset" checked={preset === chosen} onChange={() => onChoose(preset)} />
              <strong>{PRESET_ROWS[preset].name}</strong>
              <span>
                {PRESET_ROWS[preset].says} Pages are looked at again every {PRESET_ROWS[preset].review} days.
              </span>
            </label>
          </th>
          {(look?.presets[preset] ?? []).map(({ key, outside, cell }) => (
            <td key={key} data-outside={outside && cell.set !== 0}>
              <span className={styles.level}>
                <Stair set={cell.set} /> {levelWord(cell.set)}
              </span>
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
);

const CAN = [
  ["read", READ],
  ["comment", DISCUSS],
  ["write", REVISE],
  ["publish", PUBLISH],
  ["let others in", ADMIT],
  ["keep", GOVERN],
] as const;

/** Everybody down, what can be done across. */
export const LivingGrid = ({ rows }: { rows: readonly SpaceRow[] }) => (
  <table className={styles.living}>
    <caption className="unseen">Who could do what in the space</caption>
    <thead>
      <tr>
        <th scope="col">
          <span className="unseen">Who</span>
        </th>
        {CAN.map(([name]) => (
          <th key={name} scope="col">
            {name}
          </th>
        ))}
      </tr>
    </thead>
    <tbody>
      {rows.map(({ key, name, outside, cell }) => (
        <tr key={key} data-outside={outside && cell.set !== 0}>
          <th scope="row" dir="auto">
            {name}
          </th>
          {CAN.map(([can, ability]) => (
            <td key={can} data-can={(cell.set & ability) !== 0}>
              <span className="unseen">{(cell.set & ability) !== 0 ? "yes" : "no"}</span>
            </td>
          ))}
        </tr>
      ))}
    </tbody>
  </table>
);
