/** What a change would do to every subject at every place (section 8), and which pledges it breaks (section 9). */
export { Sides } from "./compare.ts";
export { differencesOf, type PlaceGroup } from "./differences.ts";
export { flat, flatEntries, type KeptRipple, pack, packEntries, placesOf, unpack } from "./packed.ts";
export { brokenPledges, covers, explainBreak, selects } from "./pledges.ts";
export { countRipple, distinctPlaces, isEmptyRipple, linesOf, type Ripple, type RippleEntry, ripple } from "./ripple.ts";
