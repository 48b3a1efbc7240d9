/** Before a page goes live: where, when, who will be able to read it there, the outside first, and what would embarrass the house. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import type { Publication, PublicationSheet, Published } from "../../contracts/publication.ts";
import { ownZone } from "../../ui/dates.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { useSensitive } from "../writing/sensitive.ts";
import type { Live } from "../writing/useLive.ts";
import { Helpers, Marks } from "./Besides.tsx";
import { ACT_WORDS, bodyOf, firstOrder, missing, type Order, type PublicationSource } from "./order.ts";
import styles from "./publication.module.css";
import { Readers } from "./Readers.tsx";
import { Sensitive } from "./Sensitive.tsx";
import { When } from "./When.tsx";
import { Where } from "./Where.tsx";

interface Props {
  source: PublicationSource;
  /** The text it is about, in which findings are marked. */
  live: Live;
  onDone(done: Published): void;
  onClose(): void;
}

const NO_WORDS: string[] = [];

/** What can be done with it, and why some of that cannot. */
function choicesFor({ kind }: PublicationSource, sheet: PublicationSheet | undefined): { what: Publication; words: string; off: string }[] {
  const off = sheet?.unapproved ? "It is approved first." : "";
  const both = [
    { what: "live" as const, words: "now", off: "" },
    { what: "schedule" as const, words: "at a time", off },
  ];
  if (kind === "page") return both;
  return [
    ...both,
    { what: "place" as const, words: "not yet: as a draft there", off: "" },
    ...(sheet?.unapproved ? [{ what: "submit" as const, words: "not yet: given in for approval", off: "" }] : []),
  ];
}

/** The sheet for an order, kept while the next one is worked out. */
function useSheet(source: PublicationSource, order: Order) {
  const body = bodyOf(order, source);
  const waits = missing(order, source);
  // What it would do is looked at once all is chosen; until then as though it went live now, where that says anything.
  const asked = order.what === "schedule" && order.at === "" ? { ...body, what: "live" as const } : body;
  const query = useQuery({
    queryKey: ["publication", ...source.key, source.version, asked],
    queryFn: () => source.look(asked),
    placeholderData: keepPreviousData,
    enabled: source.kind === "page" || order.to !== "",
    staleTime: 0,
    gcTime: 0,
  });
  return { ...query, waits };
}

export default function PublishSheet({ source, live, onDone, onClose }: Props) {
  const [order, setOrder] = useState(() => firstOrder(source, ownZone()));
  const change = (part: Partial<Order>) => setOrder((before) => ({ ...before, ...part }));
  const { data: sheet, error, refetch, waits, isPlaceholderData } = useSheet(source, order);
  const staged = useStaged({
    preview: sheet && !isPlaceholderData && !error ? sheet.preview : null,
    apply: (acting) => source.publish({ ...bodyOf(order, source), ...acting }),
    onDone,
    again: () => void refetch(),
  });
  useEffect(() => live.open(), []);
  const { editor } = live;
  const sensitive = useSensitive(editor, sheet?.houseWords ?? NO_WORDS);
  const off = waits || staged.way.off;
  return (
    <section className={styles.sheet} aria-label="Publish">
      <h2>Publish version {source.version}</h2>
      {error && (
        <p className="notice bad" role="alert">
          {error.message}
        </p>
      )}
      <ChangeSheet
        staged={{ ...staged, way: { ...staged.way, off } }}
        act={ACT_WORDS[order.what]}
        leave={{ words: "Not yet", go: onClose }}
        folded="Who gains what, in full"
      >
        <Sensitive editor={editor} found={sensitive} />
        <Where
          source={source}
          order={order}
          path={order.to === "" && source.kind === "draft" ? [] : (sheet?.path ?? [])}
          onChange={change}
        />
        <When order={order} choices={choicesFor(source, sheet)} onChange={change} />
        {sheet && (
          <>
            <Readers sheet={sheet} order={order} onChange={change} />
            <Helpers sheet={sheet} order={order} onChange={change} />
            <Marks sheet={sheet} onChange={change} />
          </>
        )}
        {!sheet && !error && source.kind === "page" && <p className="soft">Looking at who will read it …</p>}
      </ChangeSheet>
    </section>
  );
}
