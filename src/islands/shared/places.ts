/** Finding spaces and pages for a picker. */
import { find } from "../../contracts/search.ts";
import type { Choice } from "../../ui/Picker.tsx";
import { ask } from "./api.ts";
import { placeNote } from "./useFound.ts";

/** Pages in use of one space whose title holds the words; for no words, those changed last. */
export const findPagesIn =
  (space: string) =>
  async (words: string): Promise<Choice[]> => {
    const found = await ask(find, { query: { q: words, in: space } });
    return found
      .filter(({ kind, state }) => kind === "page" && state !== "binned" && state !== "archived")
      .map((it) => ({ key: it.id, name: it.title, note: placeNote(it) }));
  };

/** Pages in use whose title holds the words. */
export async function findPages(words: string): Promise<Choice[]> {
  if (words.trim().length < 2) return [];
  const found = await ask(find, { query: { q: words } });
  return found
    .filter(({ kind, state }) => kind !== "space" && state !== "binned")
    .map((it) => ({ key: it.id, name: it.title, note: placeNote(it) }));
}

/** Spaces and pages in use whose title holds the words: what something can be put into. */
export async function findPlaces(words: string): Promise<Choice[]> {
  if (words.trim().length < 2) return [];
  const found = await ask(find, { query: { q: words } });
  return found
    .filter(({ kind, state }) => kind !== "bulletin" && state !== "binned" && state !== "archived")
    .map((it) => ({ key: it.id, name: it.title, note: placeNote(it) }));
}
