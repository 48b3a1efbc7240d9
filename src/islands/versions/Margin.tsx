/** Beside the text: what else changed with it, and taking an old version up again. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { VersionList, VersionText } from "../../contracts/versions.ts";
import { LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { type Of, SOURCES } from "./sources.ts";
import styles from "./versions.module.css";

interface Change {
  what: string;
  gone: string[];
  came: string[];
}

const apart = (from: readonly string[], to: readonly string[]): Pick<Change, "gone" | "came"> => ({
  gone: from.filter((it) => !to.includes(it)),
  came: to.filter((it) => !from.includes(it)),
});

/** What changed beside the text from one version to another. */
export function changesBeside(from: VersionText, to: VersionText): Change[] {
  const one = (it: string | null) => (it === null ? [] : [it]);
  const all: Change[] = [
    { what: "Title", ...apart([from.title], [to.title]) },
    { what: "Owner", ...apart(one(from.beside.owner), one(to.beside.owner)) },
    { what: "Tags", ...apart(from.beside.tags, to.beside.tags) },
    { what: "Stands in", ...apart([from.beside.above], [to.beside.above]) },
    ...(from.beside.rules && to.beside.rules ? [{ what: "Rules", ...apart(from.beside.rules, to.beside.rules) }] : []),
  ];
  return all.filter(({ gone, came }) => gone.length + came.length > 0);
}

function Beside({ changes, hidesRules }: { changes: Change[]; hidesRules: boolean }) {
  return (
    <>
      <h2>Beside the text</h2>
      {changes.length === 0 && <p className="soft">Title, owner, tags and place{hidesRules ? "" : ", and rules,"} were the same.</p>}
      <dl className={styles.beside}>
        {changes.map(({ what, gone, came }) => (
          <div key={what}>
            <dt>{what}</dt>
            <dd dir="auto">
              {gone.map((it) => (
                <del key={it}>{it}</del>
              ))}
              {came.map((it) => (
                <ins key={it}>{it}</ins>
              ))}
            </dd>
          </div>
        ))}
      </dl>
      {hidesRules && <p className="soft">Its rules are for its Keepers.</p>}
    </>
  );
}

/** What stood beside the text of a version that is read alone. */
const Stood = ({ version: { beside } }: { version: VersionText }) => (
  <>
    <h2>Beside the text</h2>
    <dl className={styles.beside}>
      <div>
        <dt>Owner</dt>
        <dd dir="auto">{beside.owner ?? "nobody"}</dd>
      </div>
      <div>
        <dt>Tags</dt>
        <dd dir="auto">{beside.tags.join(", ") || "none"}</dd>
      </div>
      <div>
        <dt>Stood in</dt>
        <dd dir="auto">{beside.above}</dd>
      </div>
      {beside.rules && (
        <div>
          <dt>Rules</dt>
          <dd dir="auto">{beside.rules.length === 0 ? "none of its own" : beside.rules.map((it) => <div key={it}>{it}</div>)}</dd>
        </div>
      )}
    </dl>
  </>
);

/** An old version becomes the newest working one; nothing that was written since goes. */
function TakingUp({ of, list, name }: { of: Of; list: VersionList; name: string }) {
  const [note, setNote] = useState("");
  const take = useMutation({
    mutationFn: () => SOURCES[of].takeUp(list.id, name, { base: list.newest, note }),
    onSuccess: async ({ version }) => {
      setNote("");
      say(`Version ${name} is taken up again as version ${version}.`);
      await queries.invalidateQueries({ queryKey: ["versions", list.id] });
    },
  });
  return (
    <section aria-label="Take up again">
      <h2>Take version {name} up again</h2>
      <p className="soft">It becomes the newest working version. Readers go on getting what they get, and no version goes.</p>
      <TextField label="Note" value={note} onChange={setNote} most={LIMITS.note} />
      <div className="acts">
        <button type="button" className="button go" disabled={take.isPending || note.length > LIMITS.note} onClick={() => take.mutate()}>
          Take it up again
        </button>
      </div>
      {take.error && <p className="notice bad">{take.error.message}</p>}
    </section>
  );
}

interface Props {
  of: Of;
  list: VersionList;
  /** Null: `to` is read alone. */
  from: VersionText | null;
  to: VersionText;
}

export function Margin({ of, list, from, to }: Props) {
  const old = from && from.name !== list.newest ? from.name : to.name !== list.newest ? to.name : null;
  return (
    <aside className={styles.margin} aria-label="Beside the text">
      {from ? <Beside changes={changesBeside(from, to)} hidesRules={to.beside.rules === null} /> : <Stood version={to} />}
      {list.writes && old && <TakingUp of={of} list={list} name={old} />}
      <p className={styles.ways}>
        {list.writes && <a href={SOURCES[of].write(list.id)}>Write on it</a>}
        {list.address && <a href={list.address}>Read it as it is</a>}
      </p>
    </aside>
  );
}
