/** The contents of a space: what is arranged at the left; what readers find, and what looks wrong with it, at the right. */
import { QueryClientProvider } from "@tanstack/react-query";
import { useState } from "react";
import { type ContentsLook, lookAtContents } from "../../contracts/contents.ts";
import { MOST_ENTRIES } from "../../contracts/spaceEdits.ts";
import { type ContentsEntry, type Edit, type SpaceContents, sameValue } from "../../core/access/model/index.ts";
import { tray, useTray } from "../change/store.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import halves from "../shared/halves.module.css";
import { say } from "../shared/say.ts";
import { InTray, waitingAt } from "../slip/pending.tsx";
import { Adding } from "./Adding.tsx";
import styles from "./contents.module.css";
import { KINDS, kindOf, wordsOf } from "./entries.ts";
import { Lines, Troubles } from "./Found.tsx";

const NOTHING_YET: SpaceContents = { entries: [], rest: true };

interface EntriesProps {
  contents: SpaceContents;
  titles: Readonly<Record<string, string>>;
  onChange(contents: SpaceContents): void;
}

/** The entries in order; each moved by its buttons, or with Alt and an arrow. */
function Entries({ contents, titles, onChange }: EntriesProps) {
  const { entries } = contents;
  const put = (list: ContentsEntry[]) => onChange({ ...contents, entries: list });
  const move = (from: number, to: number) => {
    const moved = entries[from];
    if (!moved || to < 0 || to >= entries.length) return;
    const without = entries.filter((_, i) => i !== from);
    put([...without.slice(0, to), moved, ...without.slice(to)]);
    say(`${wordsOf(moved, titles)}: now ${to + 1} of ${entries.length}.`);
    // The focus goes along with what is moved.
    requestAnimationFrame(() => document.querySelector<HTMLElement>(`[data-entry="${to}"]`)?.focus());
  };
  if (entries.length === 0) return <p className="soft">Nothing is arranged: its pages stand as their tree has them.</p>;
  return (
    <ol className={styles.entries} aria-label="Arranged, in order; Alt and an arrow move one">
      {entries.map((entry, i) => (
        <li
          key={i}
          data-entry={i}
          data-kind={kindOf(entry)}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: what Alt and an arrow move has to be reached
          tabIndex={0}
          onKeyDown={(event) => {
            if (!event.altKey || (event.key !== "ArrowUp" && event.key !== "ArrowDown")) return;
            event.preventDefault();
            move(i, i + (event.key === "ArrowUp" ? -1 : 1));
          }}
        >
          <span className={styles.words} dir="auto" title={"link" in entry ? entry.link : undefined}>
            {wordsOf(entry, titles)} <small className="soft">{KINDS[kindOf(entry)]}</small>
          </span>
          <button type="button" className="textButton" disabled={i === 0} onClick={() => move(i, i - 1)}>
            earlier
          </button>
          <button type="button" className="textButton" disabled={i === entries.length - 1} onClick={() => move(i, i + 1)}>
            later
          </button>
          <button type="button" className="textButton" onClick={() => put(entries.filter((_, nth) => nth !== i))}>
            take out
          </button>
        </li>
      ))}
    </ol>
  );
}

/** What is arranged here and not yet in the tray; what waits there already is gone on with. */
function useArranging(space: string) {
  const waiting = waitingAt(useTray().items, space).find(({ edit }) => edit.kind === "contents");
  const inTray = waiting?.edit.kind === "contents" ? waiting.edit.put : undefined;
  const [own, setOwn] = useState<SpaceContents | null>(null);
  const [names, setNames] = useState<Record<string, string>>({});
  const contents = own ?? inTray;
  const looked = useLook("contents", { contents }, (body) =>
    ask(lookAtContents, { params: { id: space }, body: body.contents ? { contents: body.contents } : {} }),
  );
  const standing = looked.look?.standing ?? NOTHING_YET;
  return { ...looked, waiting, inTray, own, contents: contents ?? standing, standing, setOwn, names, setNames };
}

function stage(space: string, look: ContentsLook, contents: SpaceContents) {
  const count = contents.entries.length;
  const words = `contents: ${count} ${count === 1 ? "entry" : "entries"}, ${contents.rest ? "then its pages" : "nothing else"}`;
  const edit: Edit = { kind: "contents", place: space, remove: look.standing, put: contents };
  tray.stage({ id: space, title: look.title }, "contents", edit, words);
  say(`In the tray: ${look.title}, ${words}.`);
}

function Arranged({ space, look }: { space: string; look: ContentsLook }) {
  const waiting = waitingAt(useTray().items, space).find(({ edit }) => edit.kind === "arranged");
  const other = look.byName ? "hand" : "name";
  const turn = () =>
    tray.stage(
      { id: space, title: look.title },
      "arranged",
      { kind: "arranged", place: space, from: look.byName ? "name" : "hand", to: other },
      other === "name" ? "its pages stand by name" : "its pages stand in an order by hand",
    );
  return (
    <p className="soft">
      Its pages stand {look.byName ? "by name" : "in an order by hand"}:{" "}
      {waiting ? (
        <InTray waiting={waiting} words={waiting.sentence} />
      ) : (
        <button type="button" className="textButton" onClick={turn}>
          {other === "name" ? "by name instead" : "by hand instead"}
        </button>
      )}
      {!look.byName && (
        <>
          {" "}
          · <a href={`/grid?place=${space}`}>move them in the grid</a>
        </>
      )}
    </p>
  );
}

function View({ space }: { space: string }) {
  const it = useArranging(space);
  const { look, contents, standing, own, waiting } = it;
  const titles = { ...look?.titles, ...it.names };
  const add = (entry: ContentsEntry, name?: string) => {
    if ("page" in entry && name !== undefined) it.setNames((before) => ({ ...before, [entry.page]: name }));
    it.setOwn({ ...contents, entries: [...contents.entries, entry] });
  };
  const takeOut = (at: number) => it.setOwn({ ...contents, entries: contents.entries.filter((_, i) => i !== at) });
  const changed = !sameValue(contents, it.inTray ?? standing);
  return (
    <div className={halves.view}>
      <section className={halves.left} aria-label="What is arranged">
        <h1 dir="auto">{look ? `Contents of ${look.title}` : "Contents"}</h1>
        {it.error && (
          <p className="notice bad" role="alert">
            {it.error.message}
          </p>
        )}
        {look && (
          <>
            <Entries contents={contents} titles={titles} onChange={it.setOwn} />
            {contents.entries.length < MOST_ENTRIES ? (
              <Adding space={space} onAdd={add} />
            ) : (
              <p className="soft">There are {MOST_ENTRIES} entries, as many as there can be.</p>
            )}
            <label>
              <input type="checkbox" checked={contents.rest} onChange={(event) => it.setOwn({ ...contents, rest: event.target.checked })} />{" "}
              Pages that are in no entry stand below them
            </label>
            <Arranged space={space} look={look} />
            <span className="acts">
              <button
                type="button"
                className="button main"
                disabled={!changed}
                onClick={() => {
                  stage(space, look, contents);
                  it.setOwn(null);
                }}
              >
                To the tray
              </button>
              {own && changed && (
                <button type="button" className="button plain" onClick={() => it.setOwn(null)}>
                  Leave it
                </button>
              )}
              {waiting && !changed && <InTray waiting={waiting} words={waiting.sentence} />}
            </span>
          </>
        )}
      </section>
      <section className={halves.right} aria-label="As readers get it">
        {look && (
          <>
            <Troubles look={look} contents={contents} titles={titles} onTakeOut={takeOut} onPin={(page, name) => add({ page }, name)} />
            <Lines look={look} />
          </>
        )}
      </section>
    </div>
  );
}

export default function ContentsView({ space }: { space: string }) {
  return (
    <QueryClientProvider client={queries}>
      <View space={space} />
    </QueryClientProvider>
  );
}
