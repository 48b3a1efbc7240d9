/** One's own words beside those somebody else saved, before it is chosen what becomes of both. */
import type { PageBody } from "../../core/content/index.ts";
import { ComparedText } from "../versions/ComparedText.tsx";
import { useCompared } from "../versions/useCompared.ts";
import versionStyles from "../versions/versions.module.css";
import styles from "./writing.module.css";

interface Words {
  title: string;
  body: PageBody;
}

export default function Compare({ theirs, mine, by, onClose }: { theirs: Words; mine: Words; by: string; onClose(): void }) {
  const compared = useCompared(theirs.body, mine.body);
  return (
    <div className={styles.comparing} role="dialog" aria-label="Theirs and yours">
      <div className={versionStyles.bar}>
        <p>
          <del>{by}’s words</del> and <ins>yours</ins>
        </p>
        {/* biome-ignore lint/a11y/noAutofocus: whoever opened it goes on from here */}
        <button type="button" className="button" onClick={onClose} autoFocus>
          Close
        </button>
      </div>
      <div className={versionStyles.sheet} data-as="side">
        {theirs.title !== mine.title && (
          <h2 dir="auto">
            <del>{theirs.title}</del> <ins>{mine.title}</ins>
          </h2>
        )}
        {compared ? <ComparedText compared={compared} as="side" addresses={{}} /> : <p className="soft">Comparing …</p>}
      </div>
    </div>
  );
}
