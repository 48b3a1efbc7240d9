/** Abilities and levels (access-model.md, section 4). A set of abilities is a bit mask in the order of the table there. */

export const ABILITIES = ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"] as const;

export type Ability = (typeof ABILITIES)[number];
/** Bit i is set when `ABILITIES[i]` is in the set. */
export type AbilitySet = number;

export const bitOf = (ability: Ability): AbilitySet => 1 << ABILITIES.indexOf(ability);

export const READ = bitOf("read");
export const DISCUSS = bitOf("discuss");
export const REVISE = bitOf("revise");
export const ADD = bitOf("add");
export const PUBLISH = bitOf("publish");
export const ARRANGE = bitOf("arrange");
export const RETIRE = bitOf("retire");
export const ADMIT = bitOf("admit");
export const GOVERN = bitOf("govern");
export const NOTHING: AbilitySet = 0;
export const EVERYTHING: AbilitySet = (1 << ABILITIES.length) - 1;

/** Outsiders never hold more than this, guests never more than that, whatever the rules say. */
export const OUTSIDER_LIMIT = READ | DISCUSS;
export const GUEST_LIMIT = EVERYTHING & ~(ADMIT | GOVERN);
/** What a `write` fence leaves to those it does not admit. */
export const LEFT_BY_WRITE_FENCE = READ | DISCUSS;
/** What an archived and a binned place leave. */
export const LEFT_WHEN_ARCHIVED = READ | ARRANGE | RETIRE | ADMIT | GOVERN;
export const LEFT_WHEN_BINNED = READ | RETIRE;
/** What the member who owns an unpublished page holds on it. */
export const OWN_DRAFT = READ | DISCUSS | REVISE | RETIRE;

/** Adds whatever the members of a set need, so that the result is closed. */
export function close(set: AbilitySet): AbilitySet {
  let closed = set;
  if (closed & GOVERN) closed |= ADMIT | ARRANGE | RETIRE;
  if (closed & PUBLISH) closed |= REVISE;
  return closed === NOTHING ? NOTHING : closed | READ;
}

/** A closed set with an ability more, and whatever that needs. */
export const withAbility = (set: AbilitySet, ability: Ability): AbilitySet => close(set | bitOf(ability));

/** A closed set with an ability less, and without whatever needs it. */
export const withoutAbility = (set: AbilitySet, ability: Ability): AbilitySet =>
  ABILITIES.reduce((left, it) => (close(bitOf(it)) & bitOf(ability) ? left & ~bitOf(it) : left), set);

/** The mask of a list of abilities, not closed. */
export const maskOf = (abilities: readonly Ability[]): AbilitySet => abilities.reduce((mask, ability) => mask | bitOf(ability), NOTHING);

/** The abilities of a mask, in the order of the table. */
export const abilitiesIn = (set: AbilitySet): Ability[] => ABILITIES.filter((_, i) => set & (1 << i));

export const LEVELS = ["Nothing", "Reader", "Commenter", "Writer", "Publisher", "Keeper"] as const;
/** 0 is nothing, 5 is Keeper. */
export type Level = 0 | 1 | 2 | 3 | 4 | 5;

const WRITER = READ | DISCUSS | REVISE | ADD;
const LEVEL_SETS: readonly AbilitySet[] = [NOTHING, READ, READ | DISCUSS, WRITER, WRITER | PUBLISH | ARRANGE | RETIRE, EVERYTHING];

/** The abilities a level stands for. */
export const setOfLevel = (level: Level): AbilitySet => LEVEL_SETS[level] ?? NOTHING;

/** The level a set is exactly, or null for a custom mix. */
export function levelOf(set: AbilitySet): Level | null {
  const level = LEVEL_SETS.indexOf(set);
  return level < 0 ? null : (level as Level);
}

/** The highest level wholly contained in a set. */
export function levelWithin(set: AbilitySet): Level {
  let level: Level = 0;
  for (let i = 1; i < LEVEL_SETS.length; i++) {
    const needed = setOfLevel(i as Level);
    if ((set & needed) === needed) level = i as Level;
  }
  return level;
}

/** "Writer", or the abilities of a custom mix by name. */
export function describeSet(set: AbilitySet): string {
  const level = levelOf(set);
  return level === null ? `custom mix (${abilitiesIn(set).join(", ")})` : LEVELS[level];
}
