/** Whole spaces in the archive or the bin, above the pages there: what is in one comes back with it. */
import type { PageCounts } from "../../contracts/pages.ts";
import { When } from "../../ui/When.tsx";
import { ActButtons } from "../life/ActButtons.tsx";
import styles from "./pages.module.css";

interface Props {
  counts: PageCounts | undefined;
  onSlip(id: string): void;
}

export function GoneSpaces({ counts, onSlip }: Props) {
  if (!counts || counts.spaces.length === 0) return null;
  return (
    <ul className={styles.gone} aria-label="Whole spaces here">
      {counts.spaces.map(({ id, title, left, acts }) => (
        <li key={id}>
          <span className={styles.goneTitle} dir="auto">
            {title}
          </span>
          <span className="soft">
            the whole space
            {left && (
              <>
                {", since "}
                <When instant={left.at} as="short" /> by {left.by}
                {left.erasable && (
                  <>
                    {"; can be erased from "}
                    <When instant={left.erasable} as="day" />
                  </>
                )}
              </>
            )}
          </span>
          <span className="acts">
            <ActButtons acts={acts} places={[id]} />
            <button type="button" className="button plain" onClick={() => onSlip(id)}>
              Its slip
            </button>
          </span>
        </li>
      ))}
      {counts.moreSpaces > 0 && <li className="soft">and {counts.moreSpaces} more spaces: the grid shows them all</li>}
    </ul>
  );
}
