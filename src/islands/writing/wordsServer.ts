/** The server, as the keeper of words calls it: every way a call can end, told apart. */
import { dropTemplateBuffers, keepTemplateBuffer, saveTemplatePage } from "../../contracts/templates.ts";
import { dropDraftBuffers, keepDraftBuffer, saveDraft } from "../../contracts/workbench.ts";
import { dropBuffers, keepBuffer, type SaveBody, type SavedVersion, type Spent, saveVersion } from "../../contracts/writing.ts";
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

type Words = Parameters<WordsServer["keep"]>[0];

/** The calls by which words are kept, saved and dropped, of whatever they are the words of. */
const serverFor = (
  keep: (words: Words, spent: Spent[]) => Promise<unknown>,
  save: (body: SaveBody) => Promise<SavedVersion>,
  drop: (spent: Spent[]) => Promise<unknown>,
): WordsServer => ({
  keep: (words, spent) => outcomeOf(keep(words, [...spent])),
  save: ({ title, body, base }, note, spent) => outcomeOf(save({ title, body, base, note, spent: [...spent] })),
  drop: (spent) => outcomeOf(drop([...spent])),
});

/** For the words of a page. */
export const wordsServer = (id: string): WordsServer =>
  serverFor(
    (words, spent) => ask(keepBuffer, { params: { id }, body: { ...words, spent }, stay: true }),
    (body) => ask(saveVersion, { params: { id }, body, stay: true }),
    (spent) => ask(dropBuffers, { params: { id }, body: { spent }, stay: true }),
  );

/** For the words of a page of a template. */
export const templateServer = (id: string): WordsServer =>
  serverFor(
    (words, spent) => ask(keepTemplateBuffer, { params: { id }, body: { ...words, spent }, stay: true }),
    (body) => ask(saveTemplatePage, { params: { id }, body, stay: true }),
    (spent) => ask(dropTemplateBuffers, { params: { id }, body: { spent }, stay: true }),
  );

/** For the words of a private draft. */
export const draftServer = (id: string): WordsServer =>
  serverFor(
    (words, spent) => ask(keepDraftBuffer, { params: { id }, body: { ...words, spent }, stay: true }),
    (body) => ask(saveDraft, { params: { id }, body, stay: true }),
    (spent) => ask(dropDraftBuffers, { params: { id }, body: { spent }, stay: true }),
  );
