import { endWords, exactDate, longDate, piecesWithInstants, shortDate, shortDateTime } from "./dates.ts";

/** A date on the screen, the exact instant and its zone in the title. */
export function When({ instant, as = "time" }: { instant: string; as?: "day" | "short" | "time" | "end" }) {
  const words =
    as === "day" ? longDate(instant) : as === "short" ? shortDate(instant) : as === "end" ? endWords(instant) : shortDateTime(instant);
  return (
    <time dateTime={instant} title={exactDate(instant)}>
      {words}
    </time>
  );
}

/** A sentence made elsewhere: the instants in it are said as the person at the screen counts days. */
export function Told({ text }: { text: string }) {
  return <>{piecesWithInstants(text).map((piece, i) => (i % 2 === 1 ? <When key={i} instant={piece} as="end" /> : piece))}</>;
}
