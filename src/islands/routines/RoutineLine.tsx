/** A routine as one ruled line of parts, each changed where it stands; opened: what it would touch today, and its runs. */
import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import {
  changeRoutine,
  makeRoutine,
  type RoutineList,
  type RoutineRow,
  removeRoutine,
  runRoutine,
  switchRoutine,
} from "../../contracts/routines.ts";
import { isAboutGuests, isTelling, ROUTINE_LIMITS, scheduleWords } from "../../core/routines/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { When } from "../../ui/When.tsx";
import { ask, queries } from "../shared/api.ts";
import { findPersons } from "../shared/people.ts";
import { SentencePart } from "../shared/SentencePart.tsx";
import { say } from "../shared/say.ts";
import { bodyOf, type Draft, draftOf, sentenceOf } from "./draft.ts";
import { RunBars, RunList } from "./Runs.tsx";
import styles from "./routines.module.css";
import { Today, useToday } from "./Today.tsx";
import { WhatPart, whatWords } from "./WhatPart.tsx";
import { WhenPart } from "./WhenPart.tsx";
import { DaysField, WhichParts } from "./WhichParts.tsx";

interface PartsProps {
  draft: Draft;
  mayChooseAs: boolean;
  onChange(change: Partial<Draft>): void;
}

const Labelled = ({ name, children }: { name: string; children: ReactNode }) => (
  <div className={styles.part}>
    <dt>{name}</dt>
    <dd>{children}</dd>
  </div>
);

/** Who is told, or answers. */
function whomWords({ action, names }: Draft): string {
  if (action.what === "flag" || action.what === "tellOwner") return "the owner";
  if (action.what === "tellGroup") return names[action.group] ?? "a group";
  return action.what === "tellHosts" ? "who brought them in" : "nobody";
}

export function Parts({ draft, mayChooseAs, onChange }: PartsProps) {
  return (
    <dl className={styles.parts}>
      <Labelled name="When">
        <SentencePart name="When" words={scheduleWords(draft)}>
          {() => <WhenPart draft={draft} onChange={onChange} />}
        </SentencePart>
      </Labelled>
      <Labelled name="Which">
        <WhichParts draft={draft} onChange={onChange} />
      </Labelled>
      <Labelled name="What">
        <SentencePart name="What" words={whatWords(draft.action, draft.names)}>
          {() => <WhatPart draft={draft} onChange={onChange} />}
        </SentencePart>
      </Labelled>
      <Labelled name="Whom">
        <span>{whomWords(draft)}</span>
      </Labelled>
      <Labelled name="Most">
        <SentencePart name="Most" words={`${draft.most.toLocaleString("en")} a run`}>
          {() => (
            <DaysField
              label={`${isAboutGuests(draft.which) ? "Guests" : "Pages"} in one run, at most`}
              value={draft.most}
              onChange={(most) => most <= ROUTINE_LIMITS.most && onChange({ most })}
            />
          )}
        </SentencePart>
      </Labelled>
      <Labelled name="As">
        {mayChooseAs ? (
          <SentencePart name="As" words={draft.as.name}>
            {(close) => (
              <>
                <p className="soft">It does only what that person may.</p>
                <Picker
                  label="As whom"
                  find={async (words) => (await findPersons(words)).filter(({ isGuest }) => !isGuest)}
                  onChoose={({ principal, name }) => {
                    if ("person" in principal) onChange({ as: { id: principal.person, name } });
                    close();
                  }}
                  autoFocus
                  inline
                />
              </>
            )}
          </SentencePart>
        ) : (
          <span>{draft.as.name}</span>
        )}
      </Labelled>
    </dl>
  );
}

const done = async (words: string): Promise<void> => {
  say(words);
  await queries.invalidateQueries();
};

/** Keeps what was set, switches it, runs it, takes it away. */
function useActs(row: RoutineRow | null, draft: Draft, onKept: (id: string | null) => void) {
  const save = useMutation({
    mutationFn: (on: boolean) =>
      row
        ? ask(changeRoutine, { params: { id: row.id }, body: { ...bodyOf(draft, on), rev: row.rev } })
        : ask(makeRoutine, { body: bodyOf(draft, on) }),
    onSuccess: async ({ id }, on) => {
      await done(`${draft.name} is kept, and switched ${on ? "on" : "off"}.`);
      onKept(id);
    },
  });
  const turn = useMutation({
    mutationFn: (on: boolean) => ask(switchRoutine, { params: { id: row?.id ?? "" }, body: { on, rev: row?.rev ?? 1 } }),
    onSuccess: (_, on) => done(`${draft.name} is switched ${on ? "on" : "off"}.`),
  });
  const run = useMutation({
    mutationFn: () => ask(runRoutine, { params: { id: row?.id ?? "" }, body: { rev: row?.rev ?? 1, once: crypto.randomUUID() } }),
    onSuccess: () => done(`${draft.name} runs.`),
  });
  const remove = useMutation({
    mutationFn: () => ask(removeRoutine, { params: { id: row?.id ?? "" } }),
    onSuccess: async () => {
      await done(`${draft.name} is taken away.`);
      onKept(null);
    },
  });
  const all = [save, turn, run, remove];
  return { save, turn, run, remove, pending: all.some(({ isPending }) => isPending), error: all.find(({ error }) => error)?.error ?? null };
}

interface OpenProps {
  row: RoutineRow | null;
  draft: Draft;
  changed: boolean;
  list: Pick<RoutineList, "mayChooseAs">;
  onChange(change: Partial<Draft>): void;
  onReset(): void;
  onKept(id: string | null): void;
}

/** Why it cannot be kept yet; empty where it can. */
function offWords(draft: Draft, today: ReturnType<typeof useToday>): string {
  if (!hasWords(draft.name)) return "Give it a name first.";
  if (draft.name.length > LIMITS.name) return "Its name is too long.";
  if (today.isFetching) return "What it would touch is still being looked up.";
  if (today.error) return today.error.message;
  return today.data?.troubles[0] ?? "";
}

export function OpenRoutine({ row, draft, changed, list, onChange, onReset, onKept }: OpenProps) {
  const [shown, show] = useState<string | null>(null);
  const [leaving, setLeaving] = useState(false);
  const today = useToday(draft, row?.id);
  const acts = useActs(row, draft, onKept);
  const mayChange = row?.mayChange ?? true;
  const off = mayChange ? offWords(draft, today) : "It runs as somebody else: only site keepers set it.";
  const fresh = changed || row === null;
  const act = (words: string, run: () => void, main = false) => (
    <button
      type="button"
      className={main ? "button go" : "button"}
      aria-disabled={off !== "" || acts.pending}
      title={off || undefined}
      onClick={() => off || acts.pending || run()}
    >
      {words}
    </button>
  );
  return (
    <>
      {mayChange ? (
        <Parts draft={draft} mayChooseAs={list.mayChooseAs} onChange={onChange} />
      ) : (
        <p>It runs as {draft.as.name}: only site keepers set it.</p>
      )}
      <p className={styles.sentence}>{sentenceOf(draft)}</p>
      <div className="acts">
        {mayChange && <TextField label="Its name" value={draft.name} onChange={(name) => onChange({ name })} most={LIMITS.name} />}
        {fresh && act(row?.on ? "Keep it so" : "Keep it, switched off", () => acts.save.mutate(row?.on ?? false), row?.on)}
        {fresh && !row?.on && act("Keep it and switch it on", () => acts.save.mutate(true), true)}
        {!fresh && !row?.on && act("Switch it on", () => acts.turn.mutate(true), true)}
        {!fresh && row?.on && (
          <button type="button" className="button" disabled={acts.pending} onClick={() => acts.turn.mutate(false)}>
            Switch it off
          </button>
        )}
        {!fresh && act("Run it now", () => acts.run.mutate())}
        {fresh && (
          <button type="button" className="button plain" onClick={onReset}>
            {row ? "As it was" : "Leave it"}
          </button>
        )}
        {row && !fresh && mayChange && !leaving && (
          <button type="button" className="button plain" onClick={() => setLeaving(true)}>
            Take it away …
          </button>
        )}
        {leaving && (
          <>
            <span>Its runs stay, and can still be taken back.</span>
            <button type="button" className="button" disabled={acts.pending} onClick={() => acts.remove.mutate()}>
              Take it away
            </button>
            <button type="button" className="button plain" onClick={() => setLeaving(false)}>
              Leave it
            </button>
          </>
        )}
      </div>
      {acts.error && (
        <p className="notice bad" role="alert">
          {acts.error.message}
        </p>
      )}
      {today.data?.final && (
        <p className="soft">
          {today.data.final}
          {isTelling(draft.action) ? " Nobody is told of the same again within 30 days." : ""}
        </p>
      )}
      {row && row.runs.length > 0 && (
        <section aria-label="Runs" className={styles.runs}>
          <span className="soft">Past runs</span>
          <RunBars runs={row.runs} chosen={shown} onChoose={(id) => show(shown === id ? null : id)} />
          {shown && <RunList key={shown} id={shown} onClose={() => show(null)} />}
        </section>
      )}
      <Today draft={draft} today={today} />
    </>
  );
}

interface LineProps {
  row: RoutineRow;
  nth: number;
  open: boolean;
  current: boolean;
  list: RoutineList;
  onOpen(): void;
  onGo(): void;
}

export function RoutineLine({ row, nth, open, current, list, onOpen, onGo }: LineProps) {
  const [edited, setEdited] = useState<Partial<Draft>>({});
  const draft = { ...draftOf(row), ...edited };
  const [last] = row.runs;
  return (
    <li className={styles.line} aria-current={current}>
      <div className={styles.head}>
        <button
          type="button"
          className={styles.name}
          data-row={nth}
          data-home={current ? "" : undefined}
          tabIndex={current ? 0 : -1}
          aria-expanded={open}
          onClick={onOpen}
          onFocus={onGo}
        >
          <span dir="auto">{row.name}</span>
          <small className="soft">{row.space?.name ?? "the whole site"}</small>
        </button>
        <span className={styles.on} data-on={row.on}>
          {row.on ? "on" : "off"}
        </span>
        <span className="soft">
          {row.on && row.times[0] ? (
            <>
              next <When instant={row.times[0]} />
            </>
          ) : (
            "not by itself"
          )}
        </span>
        <span className={styles.last}>
          {last ? (
            <>
              <When instant={last.at} as="day" />:{" "}
              {last.state === "failed" ? "did not run" : `${last.touched} touched${last.skipped > 0 ? `, ${last.skipped} skipped` : ""}`}
            </>
          ) : (
            <span className="soft">never ran</span>
          )}
        </span>
      </div>
      {!open && <p className={styles.sentence}>{row.sentence}</p>}
      {row.problem && row.on && <p className="notice bad">{row.problem}</p>}
      {open && (
        <OpenRoutine
          row={row}
          draft={draft}
          changed={Object.keys(edited).length > 0}
          list={list}
          onChange={(change) => setEdited({ ...edited, ...change })}
          onReset={() => setEdited({})}
          onKept={() => setEdited({})}
        />
      )}
    </li>
  );
}
