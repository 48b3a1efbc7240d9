/** The house rules that are not rules of access: how the house is kept. */
export interface HouseRules {
  /** Days for which the bin keeps a page at least. */
  binDays: number;
  /** Fewest characters of a password. */
  passwordLength: number;
  /** Whether Keepers of places bring in guests, and not only site keepers. */
  guestsBySpaceKeepers: boolean;
  /** Days for which is kept when a guest last read a page; 0: never kept. */
  useDays: number;
  /** Words the house calls sensitive, as they are written. */
  sensitiveWords: string[];
}

export const HOUSE_RULES: Readonly<HouseRules> = {
  binDays: 90,
  passwordLength: 12,
  guestsBySpaceKeepers: false,
  useDays: 365,
  sensitiveWords: [],
};

/** A house rule in words, as in "the bin keeps pages for 90 days". */
export function houseRuleWords(rule: keyof HouseRules, rules: Partial<HouseRules>): string {
  const it = { ...HOUSE_RULES, ...rules };
  switch (rule) {
    case "binDays":
      return `the bin keeps pages for ${it.binDays} days`;
    case "passwordLength":
      return `passwords have ${it.passwordLength} characters or more`;
    case "guestsBySpaceKeepers":
      return it.guestsBySpaceKeepers ? "Keepers of places bring in guests" : "only site keepers bring in guests";
    case "useDays":
      return it.useDays === 0
        ? "nothing is kept of who reads"
        : `for ${it.useDays} days it is kept when guests last read a page, and by marks without names how many people read it in a week`;
    case "sensitiveWords":
      return `sensitive words: ${it.sensitiveWords.join(", ") || "none"}`;
  }
}
