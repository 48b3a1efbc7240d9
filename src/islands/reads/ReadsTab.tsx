/** Views of one page over time, in its slip: by kind of reader, as bars and as a table. Brought when the tab is opened. */
import { useQuery } from "@tanstack/react-query";
import { readReads } from "../../contracts/reads.ts";
import { ask } from "../shared/api.ts";
import { ReadsChart } from "./ReadsChart.tsx";

export default function ReadsTab({ id, alone }: { id: string; alone: boolean }) {
  const query = { about: id, weeks: "26" as const, ...(alone ? { alone: "yes" as const } : {}) };
  const { data, error } = useQuery({ queryKey: ["reads", query], queryFn: () => ask(readReads, { query }) });
  if (error) return <p className="notice bad">{error.message}</p>;
  if (!data) return <p className="soft">Reading …</p>;
  return (
    <>
      <ReadsChart reads={data} height={150} />
      <p>
        <a href={`/reads?about=${encodeURIComponent(id)}`}>{alone ? "With what is below it" : "Most read, never read, read but stale"}</a>
      </p>
    </>
  );
}
