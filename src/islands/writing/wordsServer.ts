/** The server, as the keeper of words calls it: every way a call can end, told apart. */
import type { BodyError } from "../../core/content/body.ts";
import { ApiError, call } from "../shared/api.ts";
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

const send = <T>(method: "POST" | "DELETE", path: string, body: unknown): Promise<Outcome<T>> =>
  outcomeOf(call<T>(path, { method, headers: { "content-type": "application/json" }, body: JSON.stringify(body) }, { stay: true }));

export const wordsServer = (page: string): WordsServer => ({
  keep: (words, spent) => send("POST", `/api/pages/${page}/buffer`, { ...words, spent }),
  save: ({ title, body, base }, note, spent) => send("POST", `/api/pages/${page}`, { title, body, base, note, spent }),
  drop: (spent) => send("DELETE", `/api/pages/${page}/buffer`, { spent }),
});
