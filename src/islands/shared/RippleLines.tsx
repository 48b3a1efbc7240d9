import type { RippleView } from "../../contracts/answers.ts";
import styles from "./ripple.module.css";

const HEADS = { outsiders: "Public and passes", guests: "Guests", members: "Members" } as const;

const some = (names: string[], most: number): string => {
  if (names.length <= most) return names.join(", ");
  return `${names.slice(0, most).join(", ")} and ${names.length - most} more`;
};

/** One line: who gains and loses, the outside first. */
export function RippleSummary({ ripple }: { ripple: RippleView }) {
  if (ripple.empty || ripple.summary.length === 0) return <span className={styles.none}>Nobody gains or loses anything.</span>;
  return (
    <span>
      {ripple.summary.map((part, i) => (
        <span key={part.class}>
          {i > 0 && " · "}
          <span className={part.class === "members" ? undefined : styles.outside}>{part.text}</span>
        </span>
      ))}
    </span>
  );
}

/** The ripple as a list: who, where, from what to what. */
export function RippleLines({ ripple }: { ripple: RippleView }) {
  if (ripple.empty) return <p className={styles.none}>Nobody gains or loses anything anywhere.</p>;
  return (
    <div className={styles.lines}>
      {ripple.pledges.breaks.length > 0 && (
        <p className="notice bad">
          Breaks a pledge: {[...new Set(ripple.pledges.breaks.map((it) => it.why))].join(" ")} For example{" "}
          {ripple.pledges.breaks[0]?.witness} on {ripple.pledges.breaks[0]?.place}.
        </p>
      )}
      {ripple.pledges.mends.length > 0 && <p className="notice good">Mends a pledge: {ripple.pledges.mends.join(" ")}</p>}
      {ripple.closedToAll.length > 0 && <p className="notice bad">Left to its overseers alone: {ripple.closedToAll.join(", ")}.</p>}
      <table>
        <thead>
          <tr>
            <th>Who</th>
            <th>Where</th>
            <th>Before</th>
            <th>After</th>
          </tr>
        </thead>
        <tbody>
          {ripple.lines.map((line, i) => (
            <tr key={i} data-class={line.class}>
              <td>
                <small>{HEADS[line.class]}</small>
                {some(line.who, 8)}
              </td>
              <td>
                {some(
                  line.where.map((it) => it.title),
                  6,
                )}
                {line.hidden > 0 && (
                  <span className="soft">
                    {" "}
                    {line.where.length > 0 && "and "}
                    {line.hidden} you cannot see
                  </span>
                )}
              </td>
              <td>{line.before}</td>
              <td className={line.losses.length > 0 ? styles.loses : styles.gains}>
                {line.after}
                {line.oversight !== "same" && <span> (oversight {line.oversight})</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
