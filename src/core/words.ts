/** What counts as words, how long texts may be, and words said alike in several places: for the server to refuse by, and the views to say beforehand. */

/** Most characters of a title, of a note or a reason, of the name of a token, of a group. */
export const LIMITS = { title: 300, note: 1000, name: 80, group: 100 } as const;

/** Characters that show nothing: blanks of every kind, joiners and marks of direction, accents without a letter, fillers. */
const NOTHING_TO_SEE = /[\s\p{Z}\p{C}\p{M}\u115f\u1160\u2800\u3164\uffa0]/gu;

/** Whether there is anything to read in a text. */
export const hasWords = (text: string): boolean => text.replace(NOTHING_TO_SEE, "") !== "";

/** Line ends of every kind, and what only steers a machine. */
const BREAKS = /[\p{Cc}\u2028\u2029]+/gu;

/** Whether a text is one line: all that a name or a title is, wherever it stands. */
export const isLine = (text: string): boolean => text.search(BREAKS) === -1;

/** A text as one line: for where a name from before that was held stands in lines of ours. */
export const asLine = (text: string): string => text.replace(BREAKS, " ");

/** Who outside reads a page, as a part of a sentence about pages. */
export const OUTSIDE_WORDS = {
  any: "read by outsiders",
  public: "read by the public",
  guests: "read by guests",
  none: "read by nobody outside",
} as const;
