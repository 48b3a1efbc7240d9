/** What readers find in the contents of a space, and what looks wrong with them. */
import type { ContentsLook } from "../../contracts/contents.ts";
import type { SpaceContents } from "../../core/access/model/index.ts";
import styles from "./contents.module.css";
import { wordsOf } from "./entries.ts";

/** Deeper than this, lines are not indented any further. */
const DEEPEST = 6;

export const Lines = ({ look }: { look: ContentsLook }) => (
  <>
    <h2>As readers get it</h2>
    <p className="soft">
      Each reader finds the pages they may read{look.landing ? <>, beginning with “{look.landing.name}”</> : ""}. What the public finds has
      the plum edge. <a href={`/eyes/public/read/${look.address}`}>Walk it as the public</a>
    </p>
    <ul className={styles.lines} aria-label="Contents as readers get them">
      {look.lines.map((line, i) => (
        <li
          key={i}
          data-kind={line.kind}
          data-outside={line.outside}
          style={{ paddingLeft: 10 + Math.min(DEEPEST, line.depth) * 18 }}
          dir="auto"
        >
          {line.kind === "page" ? <a href={`/grid?place=${line.id}&tab=life`}>{line.words}</a> : line.words}
          {line.kind === "link" && <small className="soft"> elsewhere</small>}
        </li>
      ))}
    </ul>
    {look.lines.length === 0 && <p className="soft">Nothing: no page of it is live.</p>}
    {look.more > 0 && <p className="soft">and {look.more.toLocaleString("en")} further pages, listed where one comes to them.</p>}
  </>
);

interface TroublesProps {
  look: ContentsLook;
  contents: SpaceContents;
  titles: Readonly<Record<string, string>>;
  onTakeOut(at: number): void;
  onPin(page: string, name: string): void;
}

export function Troubles({ look, contents, titles, onTakeOut, onPin }: TroublesProps) {
  const { troubles, troublesMore } = look;
  const entryWords = (at: number) => {
    const entry = contents.entries[at];
    return entry ? wordsOf(entry, titles) : "";
  };
  const says = ({ trouble, title }: ContentsLook["troubles"][number]): string => {
    if (trouble.kind === "twice") return `“${title}” is listed twice.`;
    if (trouble.kind === "unreachable") return `Nobody gets to “${title}”: it is in no entry, and no page one gets to links to it.`;
    const words = entryWords(trouble.at);
    return trouble.kind === "emptyHeading"
      ? `There is nothing under the heading “${words}”.`
      : `Entry ${trouble.at + 1}, ${words}, is not live here.`;
  };
  if (troubles.length === 0)
    return <p className={styles.sound}>Nothing looks wrong: no page twice, no empty heading, every live page is found.</p>;
  return (
    <>
      <h2>
        Looks wrong <span className="soft">{troubles.length + troublesMore}</span>
      </h2>
      <ul className={styles.troubles} aria-label="Looks wrong">
        {troubles.map((it, i) => {
          const { trouble } = it;
          return (
            <li key={i}>
              <span dir="auto">{says(it)}</span>{" "}
              <button
                type="button"
                className="textButton"
                onClick={() => (trouble.kind === "unreachable" ? onPin(trouble.page, it.title) : onTakeOut(trouble.at))}
              >
                {trouble.kind === "unreachable" ? "pin it" : "take the entry out"}
              </button>
            </li>
          );
        })}
      </ul>
      {troublesMore > 0 && <p className="soft">and {troublesMore.toLocaleString("en")} more</p>}
    </>
  );
}
