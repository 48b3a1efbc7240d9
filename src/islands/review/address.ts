/** Which part of the queue is looked at, as the address says it. */
export interface ReviewState {
  whose: "mine" | "all";
  space: string;
}

export function read(): ReviewState {
  const query = new URLSearchParams(window.location.search);
  return { whose: query.get("whose") === "mine" ? "mine" : "all", space: query.get("space") ?? "" };
}

/** What of it goes to the server. */
export const queryOf = ({ whose, space }: ReviewState): { whose?: "mine"; space?: string } => ({
  ...(whose === "mine" ? { whose } : {}),
  ...(space === "" ? {} : { space }),
});

export function written(state: ReviewState): string {
  const query = new URLSearchParams(queryOf(state));
  return query.size > 0 ? `?${query}` : window.location.pathname;
}
