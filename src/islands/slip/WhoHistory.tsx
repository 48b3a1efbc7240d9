/** Who came to read a place and who ceased to: by month as bars, change by change as a table. */
import { useQuery } from "@tanstack/react-query";
import { readWhoHistory, type WhoMoved } from "../../contracts/slip.ts";
import { When } from "../../ui/When.tsx";
import { ask } from "../shared/api.ts";
import { BarChart, type Bars } from "../shared/BarChart.tsx";
import styles from "./slip.module.css";

const MONTHS = 14;
const KINDS: { kind: keyof WhoMoved; name: string; one: string; colour: string }[] = [
  { kind: "outsiders", name: "public and passes", one: "public or pass", colour: "--plum" },
  { kind: "guests", name: "guests", one: "guest", colour: "--plum-soft" },
  { kind: "members", name: "members", one: "member", colour: "--pine" },
];

const monthOf = (at: Date): string => `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, "0")}`;

/** The last months, the oldest first, each by its first day. */
function months(): Date[] {
  const now = new Date();
  return Array.from({ length: MONTHS }, (_, i) => new Date(now.getFullYear(), now.getMonth() - MONTHS + 1 + i, 1));
}

const said = (moved: WhoMoved): string =>
  KINDS.flatMap(({ kind, name, one }) =>
    moved[kind] > 0 ? [`${moved[kind].toLocaleString("en")} ${moved[kind] === 1 ? one : name}`] : [],
  ).join(", ");

export function WhoHistory({ id }: { id: string }) {
  const { data } = useQuery({ queryKey: ["whoHistory", id], queryFn: () => ask(readWhoHistory, { params: { id } }) });
  if (!data) return null;
  const { changes, more } = data;
  if (changes.length === 0) return <p className="soft">Nobody came to read this, and nobody ceased to, by any change that is kept.</p>;
  const steps = months();
  const sets = KINDS.map(({ kind, name, colour }): Bars => {
    const values = steps.map((month) =>
      changes
        .filter(({ at }) => monthOf(new Date(at)) === monthOf(month))
        .reduce((sum, { gained, lost }) => sum + gained[kind] - lost[kind], 0),
    );
    return { name, colour, values };
  });
  return (
    <section>
      <h3>Who came and went</h3>
      <BarChart
        label="Readers gained and lost by month; the table says the same change by change"
        steps={steps.map((month) => month.toLocaleString("en", { month: "short" }))}
        sets={sets}
        height={120}
      />
      <table className={styles.moved}>
        <thead>
          <tr>
            <th scope="col">When</th>
            <th scope="col">Came</th>
            <th scope="col">Went</th>
          </tr>
        </thead>
        <tbody>
          {changes.slice(0, 12).map(({ at, seq, who, act, gained, lost }) => (
            <tr key={seq}>
              <td>
                <When instant={at} as="day" />
                <small className="soft">
                  {" "}
                  <a href={`/ledger?place=${encodeURIComponent(id)}`}>
                    {act}, {who}
                  </a>
                </small>
              </td>
              <td>{said(gained)}</td>
              <td>{said(lost)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {(more || changes.length > 12) && (
        <p className="soft">
          Older changes stand in the <a href={`/ledger?place=${encodeURIComponent(id)}`}>ledger</a>. What ended by the clock is in no
          change.
        </p>
      )}
    </section>
  );
}
