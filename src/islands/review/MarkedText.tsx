/** The text of a page with the passages marked that open flags are about. */
import Mark from "mark.js";
import { useEffect, useMemo, useRef } from "react";

interface Props {
  html: string;
  quotes: readonly string[];
}

export function MarkedText({ html, quotes }: Props) {
  const text = useRef<HTMLDivElement>(null);
  // Made anew only with its text: what is marked in it is not known to React.
  const prose = useMemo(() => <div className="prose" ref={text} dangerouslySetInnerHTML={{ __html: html }} />, [html]);
  const wanted = JSON.stringify(quotes);
  useEffect(() => {
    if (!text.current) return;
    const marker = new Mark(text.current);
    // A quote was copied from what a browser shows: it may run across links and lines.
    for (const quote of JSON.parse(wanted) as string[])
      marker.mark(quote.replace(/\s+/g, " "), { separateWordSearch: false, acrossElements: true, diacritics: false, ignoreJoiners: true });
    return () => marker.unmark();
  }, [html, wanted]);
  return prose;
}
