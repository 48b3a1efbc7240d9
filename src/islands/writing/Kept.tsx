/** Where words stand that are being written: kept where, in the way of what, other words of one's own. */
import { lazy, Suspense, useState } from "react";
import type { KeptWords, Written } from "../../contracts/writing.ts";
import { bodyText } from "../../core/content/index.ts";
import { When } from "../../ui/When.tsx";
import type { Standing } from "./keeping.ts";
import { showBlock } from "./showBlock.ts";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

const inBrowserToo = (inBrowser: boolean): string =>
  inBrowser ? "Kept in this browser" : "This browser has no room to keep it: copy your text somewhere safe";

/** Where the words are kept, in a sentence. */
function standingWords(standing: Standing): string {
  switch (standing.is) {
    case "unchanged":
      return "";
    case "broughtBack":
      return "Words you had not saved were brought back";
    case "typing":
      return "Typing …";
    case "kept":
      return "Kept, not yet a version";
    case "saving":
      return "Saving …";
    case "saved":
      return `Saved as version ${standing.version}`;
    case "unanswered":
      return `${inBrowserToo(standing.inBrowser)}; the server does not answer. It is tried again by itself.`;
    case "refused":
      return `${inBrowserToo(standing.inBrowser)}; the server did not take it: ${standing.message}`;
  }
}

const MOST_SHOWN = 60;

/** Of kept words the passage where they begin to differ from the saved text: by that one knows them again. */
function whereItDiffers(other: KeptWords, page: Written): string {
  const [kept, saved] = [bodyText(other.body), bodyText(page.body)];
  let nth = 0;
  while (nth < kept.length && kept[nth] === saved[nth]) nth++;
  if (nth === kept.length) return kept.trim() === "" ? other.title : kept.slice(-MOST_SHOWN).trim();
  const start = Math.max(0, kept.lastIndexOf(" ", nth) + 1);
  return kept.slice(start, start + MOST_SHOWN).trim();
}

/** Words of one's own from other tabs or browsers, which no version has. */
export function Others({ page, writing }: { page: Written; writing: Writing }) {
  if (writing.others.length === 0) return null;
  return (
    <section>
      <h3>Also not saved</h3>
      <ul className={styles.others}>
        {writing.others.map((other) => (
          <li key={other.tab}>
            <span dir="auto">“… {whereItDiffers(other, page)} …”</span>
            <small className="soft">
              on version {other.base}
              {other.rev > 0 && (
                <>
                  , <When instant={new Date(other.rev).toISOString()} />
                </>
              )}
            </small>
            <span className="acts">
              <button type="button" className="button" onClick={() => writing.take(other)}>
                Take these up
              </button>
              <button type="button" className="button plain" onClick={() => writing.throwAway(other)}>
                Throw away
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** How the words stand: kept where, what was pasted, what is in the way of saving. */
export function Stands({ page, writing, told }: { page: Written; writing: Writing; told: string }) {
  const { keeper, live } = writing;
  const { standing } = keeper;
  const where = standing.is === "refused" ? standing.where : undefined;
  return (
    <>
      <p className="soft" role="status">
        {told || standingWords(standing) || (
          <>
            Saved by {page.savedBy}, <When instant={page.savedAt} />
          </>
        )}
      </p>
      {where && (
        <button type="button" className="button" onClick={() => live.open((editor) => showBlock(editor, where))}>
          Show the place
        </button>
      )}
      {live.pasted && (
        <p className="notice" role="status">
          {live.pasted}
        </p>
      )}
      {keeper.problem && (
        <p className="notice bad" role="alert">
          {keeper.problem}
        </p>
      )}
      {writing.off && (
        <p className="notice bad" role="status" id="off">
          {writing.off}
        </p>
      )}
    </>
  );
}

const Compare = lazy(() => import("./Compare.tsx"));

interface BothProps {
  writing: Writing;
  onOver(): void;
  onGoOn(): void;
}

/** Somebody saved meanwhile: both compared, and what to do with them. */
export function BothVersions({ writing, onOver, onGoOn }: BothProps) {
  const [comparing, setComparing] = useState(false);
  const { theirs } = writing.keeper;
  if (!theirs) return null;
  return (
    <>
      <div className="acts">
        <button type="button" className="button" onClick={() => setComparing(true)}>
          Compare them
        </button>
        <button type="button" className="button" onClick={onOver}>
          Save mine as the newest
        </button>
        <button type="button" className="button" onClick={onGoOn}>
          Keep mine as a version, go on from theirs
        </button>
      </div>
      {comparing && (
        <Suspense>
          <Compare theirs={theirs} mine={writing.keeper.current()} by={theirs.by ?? "Somebody"} onClose={() => setComparing(false)} />
        </Suspense>
      )}
    </>
  );
}
