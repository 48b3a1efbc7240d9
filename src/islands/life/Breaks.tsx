import type { ActSheet, BreakTold, Told } from "../../contracts/life.ts";
import styles from "./life.module.css";

const placeAddress = (id: string): string => `/grid?place=${encodeURIComponent(id)}&tab=life`;

/** Things of a list by name, and how many more there are that one cannot see or that are not named. */
export function ToldList({ told: { count, hidden, items } }: { told: Told }) {
  const more = count - hidden - items.length;
  return (
    <ul className={styles.list}>
      {items.map(({ id, title, note }, i) => (
        <li key={`${id}|${note}|${i}`}>
          {id ? (
            <a href={placeAddress(id)} dir="auto">
              {title}
            </a>
          ) : (
            <span dir="auto">{title}</span>
          )}
          {note && <small> {note}</small>}
        </li>
      ))}
      {more > 0 && <li className="soft">and {more.toLocaleString("en")} more</li>}
      {hidden > 0 && (
        <li className="soft">
          {items.length > 0 ? "and " : ""}
          {hidden.toLocaleString("en")} {hidden === 1 ? "page" : "pages"} you cannot see
        </li>
      )}
    </ul>
  );
}

function Line({ line }: { line: BreakTold }) {
  const told = line.items.length > 0 || line.hidden > 0;
  if (!told) return <p>{line.sentence}.</p>;
  return (
    <details>
      <summary>{line.sentence}</summary>
      <ToldList told={line} />
    </details>
  );
}

/** What an act breaks, each a list one can open; zero is said too. What becomes of the pages below stands after it. */
export function Breaks({ sheet }: { sheet: ActSheet }) {
  const lines = sheet.breaks.filter(({ count }) => count > 0);
  // Of what comes back it is told who reads it then.
  const comesBack = sheet.newReaders !== null;
  return (
    <section>
      <h3>
        What breaks <span className="soft">{lines.reduce((sum, { count }) => sum + count, 0) || ""}</span>
      </h3>
      {lines.length === 0 && <p className="soft">Nothing breaks.</p>}
      {lines.map((line) => (
        <Line key={line.line} line={line} />
      ))}
      {sheet.views30 !== null && <p className="soft">Read {sheet.views30.toLocaleString("en")} times in the last 30 days.</p>}
      {sheet.along.count > 0 && (
        <details>
          <summary>
            {sheet.along.count.toLocaleString("en")} {sheet.along.count === 1 ? "page" : "pages"} below{" "}
            {sheet.along.count === 1 ? (comesBack ? "comes" : "goes") : comesBack ? "come" : "go"} {comesBack ? "back with it" : "along"}
          </summary>
          <ToldList told={sheet.along} />
        </details>
      )}
      {sheet.handedUp.count > 0 && (
        <details>
          <summary>
            {sheet.handedUp.count.toLocaleString("en")} {sheet.handedUp.count === 1 ? "page is" : "pages are"} handed up: directly after the
            page {sheet.handedUp.count === 1 ? "it was" : "they were"} under
          </summary>
          <ToldList told={sheet.handedUp} />
        </details>
      )}
      {sheet.returning
        .filter(({ pass, what }) => pass === undefined && what !== "handedUp")
        .map(({ sentence }) => (
          <p key={sentence}>{sentence}</p>
        ))}
    </section>
  );
}
