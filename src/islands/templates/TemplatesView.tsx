/** Templates of the site or of a space: which there are and their pages at the left, the page that is written at the right. */
import { QueryClientProvider, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import {
  addTemplatePage,
  changeTemplate,
  listTemplates,
  removeTemplatePage,
  shiftTemplatePage,
  type TemplateRow,
} from "../../contracts/templates.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { blanksWords } from "../../ui/templateWords.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { useAddress } from "../shared/useAddress.ts";
import { NewTemplate } from "./NewTemplate.tsx";
import { TemplatePaper } from "./TemplatePaper.tsx";
import styles from "./templates.module.css";

interface Props {
  /** Id of the site, or of the space. */
  place: string;
  title: string;
  me: string;
}

const read = () => {
  const query = new URLSearchParams(window.location.search);
  return { page: query.get("page") ?? "" };
};

const renew = () => queries.invalidateQueries({ queryKey: ["templates"] });

/** Something done to a template, its error said where it was done. */
function useAct(act: () => Promise<unknown>, done: string) {
  return useMutation({
    mutationFn: act,
    onSuccess: async () => {
      say(done);
      await renew();
    },
  });
}

interface PagesProps {
  row: TemplateRow;
  page: string;
  onOpen(page: string): void;
}

/** The pages of a template; the one that is open can be moved, taken out, or get another below it. */
function Pages({ row, page, onOpen }: PagesProps) {
  const [title, setTitle] = useState<string | null>(null);
  const params = { id: page };
  const shift = useMutation({
    mutationFn: (to: "earlier" | "later") => ask(shiftTemplatePage, { params, body: { to } }),
    onSuccess: renew,
  });
  const remove = useAct(() => ask(removeTemplatePage, { params }), "Taken out.");
  const add = useMutation({
    mutationFn: () => ask(addTemplatePage, { params: { id: row.id }, body: { under: page, title: title?.trim() ?? "" } }),
    onSuccess: async ({ id }) => {
      setTitle(null);
      await renew();
      onOpen(id);
    },
  });
  const problem = shift.error ?? remove.error ?? add.error;
  return (
    <>
      <ul className={styles.pages} aria-label={`Pages of ${row.name}`}>
        {row.pages.map((it) => (
          <li key={it.id} style={{ paddingLeft: it.depth * 14 }}>
            <button type="button" className="textButton" aria-pressed={page === it.id} onClick={() => onOpen(it.id)} dir="auto">
              {it.title}
            </button>
          </li>
        ))}
      </ul>
      {row.pages.some(({ id }) => id === page) && (
        <span className={styles.acts}>
          <button type="button" className="textButton" onClick={() => setTitle(title === null ? "" : null)} aria-expanded={title !== null}>
            add a page below
          </button>
          {page !== row.pages[0]?.id && (
            <>
              <button type="button" className="textButton" onClick={() => shift.mutate("earlier")}>
                earlier
              </button>
              <button type="button" className="textButton" onClick={() => shift.mutate("later")}>
                later
              </button>
              <button
                type="button"
                className="textButton"
                onClick={() => remove.mutate(undefined, { onSuccess: () => onOpen(row.pages[0]?.id ?? "") })}
              >
                take out
              </button>
            </>
          )}
        </span>
      )}
      {title !== null && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (hasWords(title)) add.mutate();
          }}
        >
          <TextField label="Title of the page" value={title} onChange={setTitle} most={LIMITS.title} />
          <button type="submit" className="button" disabled={!hasWords(title) || add.isPending}>
            Add it
          </button>
        </form>
      )}
      {problem && (
        <p className="notice bad" role="alert">
          {problem.message}
        </p>
      )}
    </>
  );
}

/** A template in the list; opened, with its pages, its name and what it is for. */
function Template({ row, page, onOpen }: PagesProps) {
  const open = row.pages.some(({ id }) => id === page);
  const [typed, setTyped] = useState<{ name: string; about: string } | null>(null);
  const change = (body: { name: string; about: string; gone: boolean }) => ask(changeTemplate, { params: { id: row.id }, body });
  const rename = useAct(() => change({ name: typed?.name.trim() ?? "", about: typed?.about.trim() ?? "", gone: false }), "Renamed.");
  const takeAway = useAct(() => change({ name: row.name, about: row.about, gone: true }), `${row.name} is taken away.`);
  const fits = typed !== null && hasWords(typed.name) && typed.name.length <= LIMITS.name && typed.about.length <= LIMITS.note;
  return (
    <li className={styles.template} data-open={open}>
      <h3>
        <button type="button" aria-expanded={open} onClick={() => onOpen(open ? "" : (row.pages[0]?.id ?? ""))} dir="auto">
          {row.name}
        </button>
      </h3>
      <p className="soft" dir="auto">
        {row.about || "No word yet on what it is for."}
        {row.blanks.length > 0 && ` Filled in when it is used: ${blanksWords(row.blanks)}.`}
      </p>
      {open && (
        <>
          <Pages row={row} page={page} onOpen={onOpen} />
          <span className={styles.acts}>
            <button
              type="button"
              className="textButton"
              aria-expanded={typed !== null}
              onClick={() => setTyped(typed ? null : { name: row.name, about: row.about })}
            >
              name and purpose
            </button>
            <button type="button" className="textButton" onClick={() => takeAway.mutate()}>
              take the template away
            </button>
          </span>
          {typed && (
            <form
              onSubmit={(event) => {
                event.preventDefault();
                if (fits) rename.mutate(undefined, { onSuccess: () => setTyped(null) });
              }}
            >
              <TextField
                label="What it is called"
                value={typed.name}
                onChange={(name) => setTyped({ ...typed, name })}
                most={LIMITS.name}
              />
              <TextField
                label="What it is for"
                value={typed.about}
                onChange={(about) => setTyped({ ...typed, about })}
                most={LIMITS.note}
              />
              <button type="submit" className="button" disabled={!fits}>
                Keep it
              </button>
            </form>
          )}
          {(rename.error ?? takeAway.error) && (
            <p className="notice bad" role="alert">
              {(rename.error ?? takeAway.error)?.message}
            </p>
          )}
        </>
      )}
    </li>
  );
}

/** Templates that were taken away, each with a way back. */
function Gone({ place }: { place: string }) {
  const { data } = useQuery({
    queryKey: ["templates", place, "gone"],
    queryFn: () => ask(listTemplates, { query: { in: place, gone: "yes" } }),
  });
  const back = useMutation({
    mutationFn: ({ id, name, about }: TemplateRow) => ask(changeTemplate, { params: { id }, body: { name, about, gone: false } }),
    onSuccess: renew,
  });
  if (!data || data.templates.length === 0) return null;
  return (
    <details>
      <summary>Taken away: {data.templates.length}</summary>
      <ul className={styles.gone}>
        {data.templates.map((row) => (
          <li key={row.id}>
            <span dir="auto">{row.name}</span>{" "}
            <button type="button" className="textButton" onClick={() => back.mutate(row)}>
              put back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

function View({ place, title, me }: Props) {
  const [{ page }, change] = useAddress(read, (state) => `?in=${place}${state.page ? `&page=${state.page}` : ""}`);
  const { data, error } = useQuery({ queryKey: ["templates", place], queryFn: () => ask(listTemplates, { query: { in: place } }) });
  const own = data?.templates.filter(({ space }) => (space?.id ?? null) === (data.ofSite ? null : place)) ?? [];
  const open = (id: string) => change({ page: id });
  return (
    <div className={styles.view}>
      <section className={styles.list} aria-label="Templates">
        <h1 dir="auto">{title}</h1>
        {error && (
          <p className="notice bad" role="alert">
            {error.message}
          </p>
        )}
        {data && own.length === 0 && (
          <p className="soft">None yet. Pages that are begun again and again are worth one: make it from the best of them.</p>
        )}
        <ul className={styles.templates}>
          {own.map((row) => (
            <Template key={row.id} row={row} page={page} onOpen={open} />
          ))}
        </ul>
        {data && <NewTemplate place={place} ofSite={data.ofSite} onMade={(id) => void renew().then(() => open(id))} />}
        <Gone place={place} />
      </section>
      {page ? (
        <TemplatePaper key={page} id={page} me={me} />
      ) : (
        <p className={styles.none}>Choose a template: its pages are written here, with what is filled in when they are used.</p>
      )}
    </div>
  );
}

export default function TemplatesView(props: Props) {
  return (
    <QueryClientProvider client={queries}>
      <View {...props} />
    </QueryClientProvider>
  );
}
