/** What is compared, and how it is shown, in the address of the view. */
export interface Shown {
  /** Compared from this version; empty: the one before `to`; "none": `to` is read alone. */
  from: string;
  /** Compared to this version; empty: the newest. */
  to: string;
  as: "inline" | "side";
}

export function readAddress(): Shown {
  const query = new URLSearchParams(window.location.search);
  return { from: query.get("from") ?? "", to: query.get("to") ?? "", as: query.get("as") === "side" ? "side" : "inline" };
}

export function addressOf({ from, to, as }: Shown): string {
  const query = new URLSearchParams({ ...(from && { from }), ...(to && { to }), ...(as === "side" && { as }) });
  return window.location.pathname + (query.size > 0 ? `?${query}` : "");
}
