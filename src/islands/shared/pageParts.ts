/** What sentences about pages share: tags and spaces found by what was typed, and the words for who outside reads. */
import { listTags } from "../../contracts/tags.ts";
import { OUTSIDE_WORDS } from "../../core/words.ts";
import type { Choice } from "../../ui/Picker.tsx";
import { ask } from "./api.ts";
import { findPlaces } from "./places.ts";

export async function findTags(words: string): Promise<Choice[]> {
  const { tags } = await ask(listTags, { query: words ? { q: words } : {} });
  return tags.map(({ tag, count }) => ({ key: tag, name: tag, note: `${count} ${count === 1 ? "page" : "pages"}` }));
}

const isSpace = ({ note }: Choice): boolean => note.startsWith("space");
export const findSpaces = async (words: string): Promise<Choice[]> => (await findPlaces(words)).filter(isSpace);
export const findPagesAlone = async (words: string): Promise<Choice[]> => (await findPlaces(words)).filter((it) => !isSpace(it));

type Outside = keyof typeof OUTSIDE_WORDS;

/** Who outside reads a page, and how it is said. */
export const OUTSIDE = Object.entries(OUTSIDE_WORDS) as [Outside, string][];
export const outsideWords = (outside: string): string => OUTSIDE.find(([key]) => key === outside)?.[1] ?? "";
