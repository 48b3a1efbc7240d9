/** Looking at what an order would do while it is still typed: asked once typing pauses, and told whether the answer is of what is said now. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

const PAUSE = 150;

/** The newest value, once nothing was changed for a moment. */
function useSettled<T>(value: T): T {
  const key = JSON.stringify(value);
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const wait = setTimeout(() => setSettled(JSON.parse(key) as T), PAUSE);
    return () => clearTimeout(wait);
  }, [key]);
  return settled;
}

export interface Looked<A> {
  /** The newest answer, also while the next is on its way. */
  look: A | undefined;
  /** Whether it is of the order as it is now: only then it may be made. */
  current: boolean;
  error: Error | null;
  again(): void;
}

/** `order`: null while something is missing for one. */
export function useLook<O, A>(name: string, order: O | null, ask: (order: O) => Promise<A>, enabled = true): Looked<A> {
  const settled = useSettled(order);
  const query = useQuery({
    queryKey: [name, settled],
    queryFn: () => ask(settled as O),
    enabled: enabled && settled !== null,
    placeholderData: keepPreviousData,
  });
  const same = JSON.stringify(order) === JSON.stringify(settled);
  return {
    look: order === null ? undefined : query.data,
    current: order !== null && same && query.data !== undefined && !query.isPlaceholderData && !query.error,
    error: query.error,
    again: () => void query.refetch(),
  };
}
