/** The server, as the keeper of words calls it: every way a call can end, told apart. */
import { dropTemplateBuffers, keepTemplateBuffer, saveTemplatePage } from "../../contracts/templates.ts";
import { dropBuffers, keepBuffer, saveVersion } from "../../contracts/writing.ts";
import type { BodyError } from "../../core/content/index.ts";
import { ApiError, ask } from "../shared/api.ts";
import type { Outcome, Theirs, WordsServer } from "./keeping.ts";

/** Nobody answered, or somebody on the way in its stead. */
const UNANSWERED = [0, 502, 503, 504];

async function outcomeOf<T>(work: Promise<T>): Promise<Outcome<T>> {
  try {
    return { is: "done", answer: await work };
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    if (UNANSWERED.includes(error.status)) return { is: "unanswered" };
    const details = (error.details ?? {}) as { body?: BodyError[] };
    return {
      is: "refused",
      message: error.message,
      where: details.body?.[0]?.path || undefined,
      ...(error.code === "changedMeanwhile" ? { theirs: error.details as Theirs } : {}),
    };
  }
}

/** For the words of a page. */
export const wordsServer = (id: string): WordsServer => ({
  keep: (words, spent) => outcomeOf(ask(keepBuffer, { params: { id }, body: { ...words, spent: [...spent] }, stay: true })),
  save: ({ title, body, base }, note, spent) =>
    outcomeOf(ask(saveVersion, { params: { id }, body: { title, body, base, note, spent: [...spent] }, stay: true })),
  drop: (spent) => outcomeOf(ask(dropBuffers, { params: { id }, body: { spent: [...spent] }, stay: true })),
});

/** For the words of a page of a template. */
export const templateServer = (id: string): WordsServer => ({
  keep: (words, spent) => outcomeOf(ask(keepTemplateBuffer, { params: { id }, body: { ...words, spent: [...spent] }, stay: true })),
  save: ({ title, body, base }, note, spent) =>
    outcomeOf(ask(saveTemplatePage, { params: { id }, body: { title, body, base, note, spent: [...spent] }, stay: true })),
  drop: (spent) => outcomeOf(ask(dropTemplateBuffers, { params: { id }, body: { spent: [...spent] }, stay: true })),
});
