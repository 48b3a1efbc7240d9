/** Dates as people read them; the exact instant belongs in a tooltip. */
const long = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric" });
const short = new Intl.DateTimeFormat("en-GB", { day: "2-digit", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" });

/** "23 November 2026"; empty for no date. */
export const longDate = (instant: string | null | undefined): string => (instant ? long.format(new Date(instant)) : "");

/** "23 Nov 2026, 14:05", in the reader's own time zone. */
export const shortDateTime = (instant: string): string => short.format(new Date(instant));
