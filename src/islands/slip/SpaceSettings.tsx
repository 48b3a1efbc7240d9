/** What a space is called, its address, what it is for, where people land in it; changed through the tray. */
import { useState } from "react";
import { SPACE_ADDRESS } from "../../contracts/checks.ts";
import type { Slip } from "../../contracts/slip.ts";
import type { Edit, SpaceSettings as Settings } from "../../core/access/model/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { PeriodField } from "../../ui/PeriodField.tsx";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { tray, useTray } from "../change/store.ts";
import { say } from "../shared/say.ts";
import { InTray, waitingAt } from "./pending.tsx";
import styles from "./slip.module.css";

type Space = NonNullable<Slip["life"]["space"]>;

/** What is changed, said in a few words. */
function saidOf(before: Settings, after: Settings): string {
  const parts = [
    before.name === after.name ? "" : `called “${after.name}”`,
    before.address === after.address ? "" : `at /read/${after.address}`,
    before.purpose === after.purpose ? "" : "for something else",
    (before.indexed ?? true) === (after.indexed ?? true)
      ? ""
      : after.indexed === false
        ? "search engines are asked not to list it"
        : "search engines may list it",
    !before.approval === !after.approval ? "" : after.approval ? "what is published is approved first" : "published without approval",
    before.review === after.review
      ? ""
      : after.review
        ? `pages are looked at again every ${after.review} days`
        : "pages are not looked at again by themselves",
    !before.flags === !after.flags ? "" : after.flags ? "readers who are no members can flag pages" : "only members flag pages",
    !before.history === !after.history ? "" : after.history ? "older live versions can be read" : "older versions are for writers alone",
  ].filter(Boolean);
  return parts.join(", ") || "as before";
}

function problemWith({ name, address, purpose }: Settings): string {
  if (!hasWords(name)) return "It needs a name.";
  if (!SPACE_ADDRESS.test(address)) return "The address is small letters, digits and hyphens, at most 60.";
  return name.length > LIMITS.title || purpose.length > LIMITS.note ? "The name or the purpose is too long." : "";
}

/** What indexing, or none of it, does. */
function effectOfIndexing(indexed: boolean, pages: number): string {
  if (pages === 0) return "The public reads no page here as things stand: there is nothing to list.";
  const these = pages === 1 ? "The one page the public reads here" : `The ${pages.toLocaleString("en")} pages the public reads here`;
  return indexed
    ? `${these} will stand in the sitemap, and search engines may list ${pages === 1 ? "it" : "them"}.`
    : `${these} will be in no sitemap, and carry a line asking search engines not to list ${pages === 1 ? "it" : "them"}. The public goes on reading; what an engine listed already may take weeks to go.`;
}

interface FormProps {
  slip: Slip;
  publicReads: number;
  settings: Settings;
  /** As it is now, or will be once what waits is applied. */
  then: Settings;
  onDone(): void;
}

function Form({ slip, publicReads, settings, then, onDone }: FormProps) {
  const [typed, setTyped] = useState(then);
  const problem = problemWith(typed);
  const put = () => {
    const after = { ...typed, name: typed.name.trim(), purpose: typed.purpose.trim() };
    const words = saidOf(settings, after);
    const edit: Edit = { kind: "settings", place: slip.id, remove: settings, put: after };
    tray.stage({ id: slip.id, title: slip.title }, "settings", edit, `settings: ${words}`);
    say(`In the tray: ${slip.title}, ${words}.`);
    onDone();
  };
  return (
    <form
      className={styles.settings}
      aria-label="Name, address, purpose and more"
      onSubmit={(event) => {
        event.preventDefault();
        if (problem === "") put();
      }}
    >
      <TextField label="What it is called" value={typed.name} onChange={(name) => setTyped({ ...typed, name })} most={LIMITS.title} />
      <TextField label="Address: /read/…" value={typed.address} onChange={(address) => setTyped({ ...typed, address })} />
      {typed.address !== settings.address && <p className="soft">The old address leads to the new one.</p>}
      <TextField
        label="What it is for, in a sentence"
        value={typed.purpose}
        onChange={(purpose) => setTyped({ ...typed, purpose })}
        most={LIMITS.note}
      />
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={typed.history ?? false}
          onChange={(event) => setTyped({ ...typed, history: event.target.checked })}
        />{" "}
        Whoever reads a page can also read what it said before
      </label>
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={typed.indexed ?? true}
          onChange={(event) => setTyped({ ...typed, indexed: event.target.checked })}
        />{" "}
        Search engines may list what the public reads here
      </label>
      <label className={styles.tick}>
        <input
          type="checkbox"
          checked={typed.approval ?? false}
          onChange={(event) => setTyped({ ...typed, approval: event.target.checked })}
        />{" "}
        What is published here is approved first, by somebody who did not write all of it
      </label>
      <label className={styles.tick}>
        <input type="checkbox" checked={typed.flags ?? false} onChange={(event) => setTyped({ ...typed, flags: event.target.checked })} />{" "}
        Whoever reads pages here can flag them: guests, and the public
      </label>
      <PeriodField
        label="Pages here are looked at again after so many days (empty: never)"
        value={typed.review ?? null}
        onChange={(days) => {
          const { review: _, ...rest } = typed;
          setTyped(days === null ? rest : { ...rest, review: days });
        }}
      />
      <p className="soft">{effectOfIndexing(typed.indexed ?? true, publicReads)}</p>
      {problem && <p className="notice bad">{problem}</p>}
      <span className="acts">
        <button type="submit" className="button main" disabled={problem !== ""} title={problem || undefined}>
          To the tray
        </button>
        <button type="button" className="button plain" onClick={onDone}>
          Leave it
        </button>
      </span>
    </form>
  );
}

export function SpaceSettings({ slip, space }: { slip: Slip; space: Space }) {
  const [open, setOpen] = useState(false);
  const waiting = waitingAt(useTray().items, slip.id).find(({ edit }) => edit.kind === "settings");
  const edit = waiting?.edit.kind === "settings" ? waiting.edit : undefined;
  const { settings } = space;
  return (
    <>
      /read/{settings.address}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={saidOf(settings, edit?.put ?? settings)} />
      ) : (
        <button type="button" className={styles.text} aria-expanded={open} onClick={() => setOpen(!open)}>
          change name, address and more
        </button>
      )}
      {open && (
        <Form slip={slip} publicReads={space.publicReads} settings={settings} then={edit?.put ?? settings} onDone={() => setOpen(false)} />
      )}
    </>
  );
}

/** The page people land on, and choosing another. */
export function Landing({ slip, space }: { slip: Slip; space: Space }) {
  const [choosing, setChoosing] = useState(false);
  const waiting = waitingAt(useTray().items, slip.id).find(({ edit }) => edit.kind === "landing");
  const find = async (words: string): Promise<Choice[]> => {
    const wanted = words.trim().toLowerCase();
    return space.landings.filter(({ name }) => name.toLowerCase().includes(wanted)).map(({ id, name }) => ({ key: id, name, note: "" }));
  };
  const choose = ({ key, name }: Choice) => {
    const change: Edit = { kind: "landing", place: slip.id, from: space.landing?.id ?? null, to: key };
    tray.stage({ id: slip.id, title: slip.title }, "landing", change, `landing page: “${name}”`);
    setChoosing(false);
  };
  return (
    <>
      {space.landing?.name ?? "none yet: the first page that goes live"}{" "}
      {waiting ? (
        <InTray waiting={waiting} words={waiting.sentence.replace(/^landing page: /, "")} />
      ) : (
        space.landings.length > 0 && (
          <button type="button" className={styles.text} aria-expanded={choosing} onClick={() => setChoosing(!choosing)}>
            land elsewhere
          </button>
        )
      )}
      {choosing && <Picker<Choice> label="Page to land on" find={find} onChoose={choose} autoFocus className={styles.whom} />}
    </>
  );
}
