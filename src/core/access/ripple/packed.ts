/** A ripple as it is kept and compared: each group of places written once, however many entries it stands in. */

import type { PlaceGroup } from "./differences.ts";
import type { Ripple, RippleEntry } from "./ripple.ts";

type PackedEntry = Omit<RippleEntry, "groups"> & { groups: number[] };

export interface PackedRipple extends Omit<Ripple, "entries"> {
  places: readonly PlaceGroup[];
  entries: PackedEntry[];
}

/** An entry as ripples were kept once, and as programs are given them: with the places themselves. */
export type FlatEntry = Omit<RippleEntry, "groups"> & { places: string[] };
export interface FlatRipple extends Omit<Ripple, "entries"> {
  entries: FlatEntry[];
}

/** What stands in a ledger. */
export type KeptRipple = PackedRipple | FlatRipple;

/** Ids of the places of an entry, each once. */
export const placesOf = ({ groups }: Pick<RippleEntry, "groups">): string[] => groups.flat();

/** Numbers the groups of some entries; the same list is the same group. */
export function packEntries<T extends Pick<RippleEntry, "groups">>(entries: readonly T[]) {
  const numbers = new Map<PlaceGroup, number>();
  const numberOf = (group: PlaceGroup): number => {
    const known = numbers.get(group) ?? numbers.size;
    numbers.set(group, known);
    return known;
  };
  const packed = entries.map(({ groups, ...rest }) => ({ ...rest, groups: groups.map(numberOf) }));
  return { places: [...numbers.keys()], entries: packed };
}

export const pack = ({ entries, ...rest }: Ripple): PackedRipple => ({ ...rest, ...packEntries(entries) });

/** The ripple that was packed, or kept before ripples were. */
export function unpack(kept: KeptRipple): Ripple {
  if (!("places" in kept)) return { ...kept, entries: kept.entries.map(({ places, ...rest }) => ({ ...rest, groups: [places] })) };
  const { places, entries, ...rest } = kept;
  return { ...rest, entries: entries.map(({ groups, ...entry }) => ({ ...entry, groups: groups.map((number) => places[number] ?? []) })) };
}

/** A ripple with the places themselves, for programs. */
export const flat = ({ entries, ...rest }: Ripple): FlatRipple => ({ ...rest, entries: flatEntries(entries) });
export const flatEntries = (entries: readonly RippleEntry[]): FlatEntry[] =>
  entries.map(({ groups, ...entry }) => ({ ...entry, places: groups.flat() }));
