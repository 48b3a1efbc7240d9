/** A list that is read page by page as one scrolls, and what is chosen in it: single rows, or all that fit. */
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";

interface PageOf<Row> {
  rows: Row[];
  next: string | null;
}

export function useList<Row, Page extends PageOf<Row> = PageOf<Row>>(
  key: readonly unknown[],
  read: (after: string | undefined) => Promise<Page & PageOf<Row>>,
  /** How soon it is looked at again, by its first page; false: not by itself. */
  again: (first: Page | undefined) => number | false = () => false,
) {
  const query = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => read(pageParam),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
    refetchInterval: ({ state }) => again(state.data?.pages[0]),
  });
  const rows = useMemo(() => query.data?.pages.flatMap((page) => page.rows) ?? [], [query.data]);
  return { rows, query };
}

export interface Chosen {
  ids: ReadonlySet<string>;
  /** All that fit the filter, also what is not on the screen. */
  all: boolean;
}

const NOBODY: Chosen = { ids: new Set(), all: false };

/** What is chosen; another filter begins anew. */
export function useChosen(filter: string) {
  const [chosen, setChosen] = useState<Chosen>(NOBODY);
  useEffect(() => setChosen(NOBODY), [filter]);
  const toggle = (id: string) => {
    const ids = new Set(chosen.ids);
    if (!ids.delete(id)) ids.add(id);
    setChosen({ ids, all: false });
  };
  return {
    chosen,
    toggle,
    chooseAll: () => setChosen({ ids: new Set(), all: true }),
    choose: (ids: string[]) => setChosen({ ids: new Set(ids), all: false }),
    clear: () => setChosen(NOBODY),
  };
}
