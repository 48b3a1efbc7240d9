/** Keeping what is typed: at once in the browser, soon after on the server, so that neither going away loses it. */
import type { PageBody } from "../../core/content/body.ts";
import { post } from "../shared/api.ts";

export interface Words {
  title: string;
  body: PageBody;
  base: string;
}

const key = (id: string) => `tesoro.words.${id}`;
const PAUSE = 1500;

export function wordsInBrowser(id: string): Words | null {
  try {
    return JSON.parse(localStorage.getItem(key(id)) ?? "null");
  } catch {
    return null;
  }
}

export const forgetWords = (id: string): void => localStorage.removeItem(key(id));

/** A keeper of one page's words; `onKept` hears whether the server has them. */
export function keeper(id: string, onKept: (note: string) => void) {
  let timer: ReturnType<typeof setTimeout> | undefined;
  return {
    keep(words: Words): void {
      localStorage.setItem(key(id), JSON.stringify(words));
      clearTimeout(timer);
      onKept("Typing …");
      timer = setTimeout(async () => {
        try {
          await post(`/api/pages/${id}/buffer`, words);
          onKept("Kept, not yet a version");
        } catch {
          onKept("Kept in this browser; the server does not answer");
        }
      }, PAUSE);
    },
    stop(): void {
      clearTimeout(timer);
    },
  };
}
