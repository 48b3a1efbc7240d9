/** Calls to the endpoints by what they declare of themselves: one error class, with the sentence the server says. */
import { QueryClient } from "@tanstack/react-query";
import type { Contract, Params } from "../../contracts/declare.ts";
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

/** What a call takes along: the parts of its path, what follows the question mark, a body; each only where declared. */
type Taking<P extends string, B, Q> = (keyof Params<P> extends never ? { params?: undefined } : { params: Params<P> }) &
  (object extends Q ? { query?: Q } : { query: Q }) &
  (object extends B ? { body?: B } : { body: B }) & {
    /** Being signed out is told, not acted upon. */
    stay?: boolean;
    /** Goes out even while the page is being left. */
    keepalive?: boolean;
  };

interface Loose {
  params?: Record<string, string>;
  query?: object;
  body?: object;
  stay?: boolean;
  keepalive?: boolean;
}

/** The address of a call. */
function addressOf(path: string, { params = {}, query = {} }: Loose): string {
  const filled = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(params[name] ?? ""));
  const given = Object.entries(query).filter(([, it]) => it !== undefined);
  return given.length === 0 ? filled : `${filled}?${new URLSearchParams(given.map(([name, it]) => [name, String(it)]))}`;
}

/**
 * One call. It says whom this page was made for: where somebody else has signed in on this browser since, the server
 * refuses, so that nobody's work is done in another's name.
 */
export async function ask<P extends string, B extends object, Q extends object, A>(
  { method, path }: Contract<P, B, Q, A>,
  ...[taking]: Partial<Taking<P, B, Q>> extends Taking<P, B, Q> ? [taking?: Taking<P, B, Q>] : [taking: Taking<P, B, Q>]
): Promise<A> {
  const loose = (taking ?? {}) as Loose;
  const { body, stay = false, keepalive = false } = loose;
  const me = document.documentElement.dataset.me;
  let response: Response;
  try {
    response = await fetch(addressOf(path, loose), {
      method,
      keepalive,
      headers: { ...(body ? { "content-type": "application/json" } : {}), ...(me ? { "tesoro-for": me } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
  } catch {
    throw new ApiError(0, "offline", "The server does not answer. What you typed is kept here; try again.", null);
  }
  const answer = await response.json().catch(() => null);
  if (response.ok) return answer as A;
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

/** One cache for all islands of a page. */
export const queries = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 5_000, refetchOnWindowFocus: false } } });
