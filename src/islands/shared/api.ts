/** Calls to the JSON endpoints: one error class, with the sentence the server says. */
import { QueryClient } from "@tanstack/react-query";
import { withLocalDates } from "../../ui/dates.ts";

export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details: unknown,
  ) {
    super(message);
  }
}

/**
 * One call. It says whom this page was made for: where somebody else has signed in on this browser since, the server
 * refuses, so that nobody's work is done in another's name. `stay`: being signed out is told, not acted upon.
 */
export async function call<T>(path: string, init: RequestInit = {}, { stay = false } = {}): Promise<T> {
  let response: Response;
  const me = document.documentElement.dataset.me;
  try {
    response = await fetch(path, { ...init, headers: { ...init.headers, ...(me ? { "tesoro-for": me } : {}) } });
  } catch {
    throw new ApiError(0, "offline", "The server does not answer. What you typed is kept here; try again.", null);
  }
  const answer = await response.json().catch(() => null);
  if (response.ok) return answer as T;
  if (response.status === 401 && !stay)
    window.location.href = `/sign-in?back=${encodeURIComponent(window.location.pathname + window.location.search)}`;
  const error = answer?.error;
  throw new ApiError(
    response.status,
    error?.code ?? "broken",
    error?.message ? withLocalDates(error.message) : "The server gave an answer that makes no sense.",
    error?.details,
  );
}

export const get = <T>(path: string): Promise<T> => call<T>(path);

export const post = <T>(path: string, body: unknown): Promise<T> =>
  call<T>(path, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

export const remove = <T>(path: string): Promise<T> => call<T>(path, { method: "DELETE" });

/** One cache for all islands of a page. */
export const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 5_000, refetchOnWindowFocus: false } } });
