/** What looks sensitive in the text, said first: each leads to where it stands, and is marked there. */
import type { Editor } from "@tiptap/core";
import type { Finding } from "../../core/findings/index.ts";
import { FINDING_WORDS } from "../../ui/findingWords.ts";
import { showFinding } from "../writing/sensitive.ts";
import styles from "./publication.module.css";

const MOST_TOLD = 12;

export function Sensitive({ editor, found }: { editor: Editor | null; found: Finding[] | null }) {
  if (found === null) return <p className="soft">Looking for what is sensitive …</p>;
  if (found.length === 0) return <p className="soft">Nothing in the text looks sensitive.</p>;
  return (
    <section className="notice" aria-label="What looks sensitive">
      <strong>
        {found.length.toLocaleString("en")} {found.length === 1 ? "place in the text looks" : "places in the text look"} sensitive:
      </strong>
      <ul className={styles.found}>
        {found.slice(0, MOST_TOLD).map((it, i) => (
          <li key={i}>
            <button type="button" className="textButton" onClick={() => editor && showFinding(editor, it)} dir="auto">
              {it.found}
            </button>{" "}
            {FINDING_WORDS[it.kind].one}
          </li>
        ))}
      </ul>
      {found.length > MOST_TOLD && `and ${(found.length - MOST_TOLD).toLocaleString("en")} more, marked in the text`}
    </section>
  );
}
