import type { RippleLine, RippleView } from "../../contracts/change.ts";
import styles from "./ripple.module.css";

const HEADS = { outsiders: "Public and passes", guests: "Guests", members: "Members" } as const;

/** So many are told at once; the others are opened. */
const AT_ONCE = 3;

/** A list in words: a few as they are, of many the number, with all of them on demand. */
function Listed({ list, head, more }: { list: string[]; head: string; more: number }) {
  if (list.length === 0) return <>{head}</>;
  if (list.length <= AT_ONCE) return <>{list.join(", ")}</>;
  return (
    <details>
      <summary>{head}</summary>
      {list.join(", ")}
      {more > 0 && ` and ${more} more`}
    </details>
  );
}

/** What happens to them, where what they have in all is not told. */
const changeWords = ({ gains, losses }: RippleLine): string =>
  [gains.length > 0 ? `gain: ${gains.join(", ")}` : "", losses.length > 0 ? `lose: ${losses.join(", ")}` : ""].filter(Boolean).join("; ");

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
                <Listed list={line.names} head={line.who} more={line.unnamed} />
              </td>
              <td>
                <Listed
                  list={line.where.map((it) => it.title)}
                  head={line.places > 0 ? `${line.places} places` : ""}
                  more={line.places - line.where.length}
                />
                {line.hidden > 0 && (
                  <span className="soft">
                    {" "}
                    {line.where.length > 0 && "and "}
                    {line.hidden} you cannot see
                  </span>
                )}
              </td>
              <td>{line.before.join(" or ")}</td>
              <td className={line.losses.length > 0 ? styles.loses : styles.gains}>
                {line.after.length > 0 ? line.after.join(" or ") : changeWords(line)}
                {line.oversight !== "same" && <span> (oversight {line.oversight})</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
