/** What a change would do to every subject at every place (section 8), and which pledges it breaks (section 9). */
export { Sides } from "./compare.ts";
export { differencesOf, type PlaceGroup } from "./differences.ts";
export { flat, type KeptRipple, unpack } from "./kept.ts";
export { brokenPledges, covers, explainBreak, selects, type Violation, violationsOf } from "./pledges.ts";
export {
  countRipple,
  distinctPlaces,
  isEmptyRipple,
  linesOf,
  peopleOf,
  placesOf,
  type Ripple,
  type RippleEntry,
  type RippleLines,
  ripple,
  Union,
} from "./ripple.ts";
