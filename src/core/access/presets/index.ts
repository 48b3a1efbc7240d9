/** Presets for a space: how open it is to begin with, as rules. */
export { type Named, PRESET_ROWS, PRESETS, type Preset, presetRules } from "./presets.ts";
