/** The page one is on in the queue, as its readers see it, with what is said of it on top. */
import { useQuery } from "@tanstack/react-query";
import { type QueueRow, readPageReview } from "../../contracts/review.ts";
import { isOpen } from "../../core/access/model/index.ts";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import { FlagList } from "./FlagList.tsx";
import { MarkedText } from "./MarkedText.tsx";
import styles from "./review.module.css";

const every = (days: number): string => `every ${days.toLocaleString("en")} days`;

export function PageBeside({ row }: { row: QueueRow }) {
  const { data, error } = useQuery({ queryKey: ["pageReview", row.id], queryFn: () => ask(readPageReview, { params: { id: row.id } }) });
  if (error) return <p className="notice bad">{error.message}</p>;
  const period = data && (data.period ?? data.ofSpace);
  const open = data?.flags.filter(({ outcome }) => isOpen(outcome === null ? {} : { outcome })) ?? [];
  const settled = data?.flags.filter(({ outcome }) => outcome !== null) ?? [];
  return (
    <article className={styles.page} aria-label={row.title} aria-busy={data === undefined}>
      <header>
        <h2 dir="auto">{row.title}</h2>
        <p className="soft">
          {row.owner ? `Owner: ${row.owner}. ` : "It has no owner. "}
          {data?.publishedAt && (
            <>
              Published <When instant={data.publishedAt} as="day" />.{" "}
            </>
          )}
          {data?.confirmedAt ? (
            <>
              Confirmed <When instant={data.confirmedAt} as="day" />
              {data.confirmedBy && ` by ${data.confirmedBy}`}.{" "}
            </>
          ) : (
            data && "Never confirmed. "
          )}
          {period ? `Looked at again ${every(period)}${data?.period ? "" : ", as its space has it"}.` : data && "No review period."}
        </p>
        {open.length > 0 && <FlagList flags={open} />}
      </header>
      {data && data.html === null && <p className="soft">Its text is not open to you: you oversee it without reading it.</p>}
      {data?.html && <MarkedText html={data.html} quotes={open.flatMap(({ quote }) => quote || [])} />}
      {settled.length > 0 && (
        <details>
          <summary>Answered before: {settled.length}</summary>
          <FlagList flags={settled} />
        </details>
      )}
    </article>
  );
}
