/** The versions of a page one under the other: those readers got are filled; two of them are being compared. */
import type { VersionList, VersionRow } from "../../contracts/versions.ts";
import { When } from "../../ui/When.tsx";
import { lineKeys } from "../shared/lineKeys.ts";
import styles from "./versions.module.css";

interface Props {
  versions: readonly VersionRow[];
  from: string | null;
  to: string;
  onFrom(name: string): void;
  onTo(name: string): void;
  onRead(name: string): void;
}

const Seen = ({ seen }: { seen: VersionRow["seen"] }) =>
  seen === null ? (
    <>Readers never got it</>
  ) : (
    <>
      Readers: <When instant={seen.from} as="short" /> – {seen.until === null ? "now" : <When instant={seen.until} as="short" />}
    </>
  );

export function Spine({ versions, from, to, onFrom, onTo, onRead }: Props) {
  return (
    <ol className={styles.spine} aria-label="Versions, the newest first">
      {versions.map((row) => {
        const { name, live, at, who, note, seen } = row;
        return (
          <li
            key={name}
            // biome-ignore lint/a11y/noNoninteractiveTabindex: lines are gone through by keys, as in every list here
            tabIndex={0}
            data-live={live}
            data-version={name}
            aria-current={name === to ? "true" : undefined}
            onKeyDown={lineKeys({ "1": () => onFrom(name), "2": () => onTo(name), Enter: () => onRead(name) })}
          >
            <span className={styles.ends}>
              <button type="button" aria-label={`1: compare from ${name}`} aria-pressed={name === from} onClick={() => onFrom(name)}>
                1
              </button>
              <button type="button" aria-label={`2: compare to ${name}`} aria-pressed={name === to} onClick={() => onTo(name)}>
                2
              </button>
            </span>
            <span className={styles.node} aria-hidden="true" />
            <div className={styles.version}>
              <button type="button" className="textButton" onClick={() => onRead(name)}>
                {name}
              </button>{" "}
              <span dir="auto">{who}</span>
              <small className="soft">
                <When instant={at} />
              </small>
              {live && (
                <small className="soft">
                  <Seen seen={seen} />
                </small>
              )}
              {note && <small dir="auto">{note}</small>}
            </div>
          </li>
        );
      })}
    </ol>
  );
}

/** The version before another in the list; null where none is. */
export const before = ({ versions }: Pick<VersionList, "versions">, name: string): string | null =>
  versions[versions.findIndex((it) => it.name === name) + 1]?.name ?? null;
