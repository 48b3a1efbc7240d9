/** Numbers that mean different things have types of their own: one put where another belongs does not compile. */

declare const meaning: unique symbol;
type Meaning<M extends string> = number & { readonly [meaning]: M };

/** Which subject: where it stands among all of an index; 0 is the public. */
export type SubjectNumber = Meaning<"subject">;
/** Which place: where it stands in the document. */
export type PlaceNumber = Meaning<"place">;
/** When: milliseconds since the epoch. */
export type Instant = Meaning<"instant">;
/** Above the site there is none. */
export const NO_PLACE = -1 as PlaceNumber;

/** Which change: the number of its entry in the ledger. */
export type Seq = Meaning<"seq">;
/** Before the first change there is none. */
export const BEFORE_ALL = 0 as Seq;

/** An instant from milliseconds since the epoch. */
export const instantAt = (milliseconds: number): Instant => milliseconds as Instant;
/** Before and after every instant, and what is none. */
export const NEVER = instantAt(Number.NEGATIVE_INFINITY);
export const ENDLESS = instantAt(Number.POSITIVE_INFINITY);
export const NO_INSTANT = instantAt(Number.NaN);
