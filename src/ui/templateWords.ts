/** What is said of a template in a line. */
import type { TemplateRow } from "../contracts/templates.ts";
import type { Blank } from "../core/content/index.ts";

const BLANK_WORDS: Readonly<Record<Blank, string>> = { date: "the day", who: "who begins it", space: "the space" };

/** "the day, who begins it": what is filled in when it is used. */
export const blanksWords = (blanks: readonly Blank[]): string => blanks.map((blank) => BLANK_WORDS[blank]).join(", ");

/** "Of any meeting. 3 pages. Filled in: the day." */
export function templateNote({ about, pages, blanks }: TemplateRow): string {
  const count = pages.length === 1 ? "" : `${pages.length} pages.`;
  const filled = blanks.length === 0 ? "" : `Filled in: ${blanksWords(blanks)}.`;
  return [about, count, filled].filter(Boolean).join(" ");
}
