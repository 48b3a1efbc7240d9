/** The forms of a ripple: as it is kept, where each group of places is written once, and with the places themselves. */

import type { Ripple, RippleEntry } from "./ripple.ts";

/** An entry as ripples were kept once, and as programs are given them: with the places themselves. */
export type FlatEntry = Omit<RippleEntry, "groups"> & { places: string[] };
export interface FlatRipple extends Omit<Ripple, "entries" | "places"> {
  entries: FlatEntry[];
}

/** What stands in a ledger. */
export type KeptRipple = Ripple | FlatRipple;

/** A ripple that was kept, also before groups of places were. */
export function unpack(kept: KeptRipple): Ripple {
  if ("places" in kept) return kept;
  const entries = kept.entries.map(({ places: _, ...rest }, number) => ({ ...rest, groups: [number] }));
  return { ...kept, places: kept.entries.map(({ places }) => places), entries };
}

/** A ripple with the places themselves, for programs. */
export const flat = ({ places, entries, ...rest }: Ripple): FlatRipple => ({
  ...rest,
  entries: entries.map(({ groups, ...entry }) => ({ ...entry, places: groups.flatMap((number) => places[number] ?? []) })),
});
