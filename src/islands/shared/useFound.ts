import { useEffect, useState } from "react";
import { type FoundPlace, find } from "../../contracts/search.ts";
import { ask } from "./api.ts";

const KINDS = { page: "page", bulletin: "bulletin" } as const;

/** What and where a found place is: "space", "page in Quay Operations, draft". */
export function placeNote({ kind, space, state }: FoundPlace): string {
  const what = kind === "space" ? "space" : `${KINDS[kind]} in ${space || "a space you cannot see"}`;
  return state === "live" ? what : `${what}, ${state === "binned" ? "in the bin" : state}`;
}

const LEAST_LETTERS = 2;
const PAUSE = 120;

/** Pages and spaces whose title holds the words, asked for once typing pauses; null until there are words to ask with. */
export function useFound(words: string): FoundPlace[] | null {
  const [found, setFound] = useState<FoundPlace[] | null>(null);
  useEffect(() => {
    if (words.trim().length < LEAST_LETTERS) return setFound(null);
    let current = true;
    const wait = setTimeout(async () => {
      const answer = await ask(find, { query: { q: words } }).catch(() => []);
      if (current) setFound(answer);
    }, PAUSE);
    return () => {
      current = false;
      clearTimeout(wait);
    };
  }, [words]);
  return found;
}
