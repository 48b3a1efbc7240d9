import { abilitiesIn, type Grant, type Level, type Principal, principalKey, type Stance, setOfLevel } from "../model/index.ts";

/** How open a space is to begin with (vocabulary.md, "presets for a space"), the most open first. */
export const PRESETS = ["openHouse", "commonRoom", "readingRoom", "closedRoom"] as const;
export type Preset = (typeof PRESETS)[number];

interface PresetRow {
  name: string;
  /** Who can do what in it, in a sentence. */
  says: string;
  /** What stands above stops at it. */
  stance: Stance;
  audiences: readonly (readonly ["public" | "members", Level])[];
  /** Whether those are asked for who write although not all members do. */
  asksForWriters: boolean;
  /** Days after which its pages are to be looked at again, to begin with. */
  review: number;
}

export const PRESET_ROWS: Readonly<Record<Preset, PresetRow>> = {
  openHouse: {
    name: "Open house",
    says: "The public reads, members write.",
    stance: "follow",
    audiences: [
      ["public", 1],
      ["members", 3],
    ],
    asksForWriters: false,
    review: 180,
  },
  commonRoom: {
    name: "Common room",
    says: "Members write, nobody else gets in.",
    stance: "follow",
    audiences: [["members", 3]],
    asksForWriters: false,
    review: 365,
  },
  readingRoom: {
    name: "Reading room",
    says: "Members read, a group writes.",
    stance: "follow",
    audiences: [["members", 1]],
    asksForWriters: true,
    review: 365,
  },
  closedRoom: {
    name: "Closed room",
    says: "Only those named get in; what is granted for the whole site stops here.",
    stance: "fresh",
    audiences: [],
    asksForWriters: true,
    review: 180,
  },
};

/** Groups and people a preset names, by what they get. */
export interface Named {
  keepers: readonly Principal[];
  publishers: readonly Principal[];
  /** Only of presets that ask for them. */
  writers: readonly Principal[];
}

/**
 * The rules a space begins with: its stance and its grants, Keepers first. Whoever is named several times gets the highest
 * of these levels, once. Of people who may not hold a level (a guest as Keeper) the check of edits says so, not this.
 */
export function presetRules(preset: Preset, { keepers, publishers, writers }: Named): { stance: Stance; grants: Grant[] } {
  const { stance, audiences, asksForWriters } = PRESET_ROWS[preset];
  const levels = new Map<string, { to: Principal; level: Level }>();
  const give = (list: readonly Principal[], level: Level) => {
    for (const to of list) if (!levels.has(principalKey(to))) levels.set(principalKey(to), { to, level });
  };
  give(keepers, 5);
  give(publishers, 4);
  if (asksForWriters) give(writers, 3);
  for (const [audience, level] of audiences) give([{ audience }], level);
  return { stance, grants: [...levels.values()].map(({ to, level }) => ({ to, abilities: abilitiesIn(setOfLevel(level)) })) };
}
