/** A new space: how it is called and who looks after it at the left, how open it is at the right; made in one step. */
import { QueryClientProvider, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { SPACE_ADDRESS } from "../../contracts/checks.ts";
import { lookAtSpace, type SpaceBody, type SpaceLook, startSpace } from "../../contracts/spaces.ts";
import { listTemplates, type TemplateRow } from "../../contracts/templates.ts";
import { PRESET_ROWS, type Preset } from "../../core/access/presets/index.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { ownZone } from "../../ui/dates.ts";
import { Picker } from "../../ui/Picker.tsx";
import { TextField } from "../../ui/TextField.tsx";
import { templateNote } from "../../ui/templateWords.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import { Chips } from "../shared/Chips.tsx";
import halves from "../shared/halves.module.css";
import { findSubjects, type PrincipalChoice } from "../shared/people.ts";
import { LivingGrid, Presets } from "./LivingGrid.tsx";
import styles from "./spaces.module.css";

interface Wished {
  title: string;
  address: string;
  purpose: string;
  preset: Preset;
  keepers: PrincipalChoice[];
  publishers: PrincipalChoice[];
  writers: PrincipalChoice[];
  /** Title of the first page; null: none. */
  first: string | null;
  /** The template its first pages come from. */
  template: TemplateRow | null;
}

const principals = (list: readonly PrincipalChoice[]) => list.map(({ principal }) => principal);

/** What of a wish decides who could do what; a title or purpose does not. */
const rulesOf = (it: Wished): SpaceBody => ({
  preset: it.preset,
  keepers: principals(it.keepers),
  publishers: principals(it.publishers),
  writers: PRESET_ROWS[it.preset].asksForWriters ? principals(it.writers) : [],
  ...(it.first === null || (it.template && !hasWords(it.first)) ? {} : { first: firstTitle(it) }),
  ...(it.template === null ? {} : { template: it.template.id }),
  ...(it.address === "" || !SPACE_ADDRESS.test(it.address) ? {} : { address: it.address }),
});

const firstTitle = ({ first, title }: Wished): string => (first && hasWords(first) ? first : hasWords(title) ? title : "First page");

/** Looks at what is wished; the ids the first look gave stay, so that what was seen is what is made. */
function useSpaceLook(wished: Wished) {
  const [ids, setIds] = useState<(Pick<SpaceLook, "space" | "pages"> & { of: string }) | null>(null);
  // Which pages there are depends on what they come from.
  const of = wished.template?.id ?? String(wished.first === null);
  const kept = ids && { space: ids.space, ...(ids.of === of ? { pages: ids.pages } : {}) };
  const order = { ...rulesOf(wished), title: wished.title.slice(0, LIMITS.title), ...kept };
  const looked = useLook("newSpace", order, (body) => ask(lookAtSpace, { body }));
  const { look, current } = looked;
  useEffect(() => {
    if (look && current && ids?.of !== of) setIds({ space: look.space, pages: look.pages, of });
  }, [look, current, ids, of]);
  return looked;
}

interface PeopleFieldProps {
  label: string;
  chosen: PrincipalChoice[];
  onChange(chosen: PrincipalChoice[]): void;
}

const PeopleField = ({ label, chosen, onChange }: PeopleFieldProps) => (
  <div className={styles.people}>
    <Picker<PrincipalChoice>
      label={label}
      find={findSubjects}
      onChoose={(it) => onChange(chosen.some(({ key }) => key === it.key) ? chosen : [...chosen, it])}
    />
    <Chips label={`${label}, chosen`} chosen={chosen} onChange={onChange} />
  </div>
);

/** What the space begins with: nothing, a page, or what a template holds. */
function FirstPages({ wished, site, change }: Pick<FieldsProps, "wished" | "site" | "change">) {
  const { data } = useQuery({ queryKey: ["templates", site], queryFn: () => ask(listTemplates, { query: { in: site } }) });
  const { first, template } = wished;
  const chosen = first === null ? "none" : (template?.id ?? "page");
  const option = (key: string, words: string, note: string, part: Partial<Wished>) => (
    <label key={key} className={styles.tick}>
      <input type="radio" name="first" checked={chosen === key} onChange={() => change(part)} />
      <span>
        {words} {note && <small className="soft">{note}</small>}
      </span>
    </label>
  );
  return (
    <fieldset className={styles.first}>
      <legend>First pages</legend>
      {option("none", "None yet", "", { first: null, template: null })}
      {option("page", "One page, on which people land", "", { first: first ?? "", template: null })}
      {data?.templates.map((it) => option(it.id, it.name, templateNote(it), { first: first ?? "", template: it }))}
      {first !== null && (
        <TextField
          label={template ? `Title of the first page (left out: “${template.pages[0]?.title ?? ""}”)` : "Title of the first page"}
          value={first}
          onChange={(it) => change({ first: it })}
          most={LIMITS.title}
        />
      )}
      {template && template.pages.length > 1 && <p className="soft">The first goes live; those below it begin as your drafts.</p>}
    </fieldset>
  );
}

interface FieldsProps {
  site: string;
  wished: Wished;
  look: SpaceLook | undefined;
  change(part: Partial<Wished>): void;
}

function Fields({ site, wished, look, change }: FieldsProps) {
  const { address } = wished;
  const wrong = address !== "" && !SPACE_ADDRESS.test(address);
  return (
    <section className={halves.left} aria-label="The space">
      <h1>A new space</h1>
      <TextField label="What it is called" value={wished.title} onChange={(title) => change({ title })} most={LIMITS.title} />
      <label className="labelled">
        <span>Address: /read/…</span>
        <input
          className="field"
          value={address}
          placeholder={look && hasWords(wished.title) ? look.address : "follows from the name"}
          aria-invalid={wrong || look?.taken}
          onChange={(event) => change({ address: event.target.value })}
        />
      </label>
      {wrong && <p className={styles.wrong}>Small letters, digits and hyphens, at most 60.</p>}
      {look?.taken && <p className={styles.wrong}>Another space has this address.</p>}
      <TextField
        label="What it is for, in a sentence"
        value={wished.purpose}
        onChange={(purpose) => change({ purpose })}
        most={LIMITS.note}
      />
      <PeopleField label="Keepers" chosen={wished.keepers} onChange={(keepers) => change({ keepers })} />
      <PeopleField label="Publishers" chosen={wished.publishers} onChange={(publishers) => change({ publishers })} />
      {PRESET_ROWS[wished.preset].asksForWriters && (
        <PeopleField label="Writers" chosen={wished.writers} onChange={(writers) => change({ writers })} />
      )}
      <FirstPages wished={wished} site={site} change={change} />
    </section>
  );
}

interface ViewProps {
  me: { id: string; name: string };
  /** Id of the site, whose templates spaces begin with. */
  site: string;
}

function View({ me, site }: ViewProps) {
  const [wished, setWished] = useState<Wished>({
    title: "",
    address: "",
    purpose: "",
    preset: "commonRoom",
    keepers: [{ key: `person:${me.id}`, name: me.name, note: "", principal: { person: me.id }, isGuest: false }],
    publishers: [],
    writers: [],
    first: "",
    template: null,
  });
  const change = (part: Partial<Wished>) => setWished((before) => ({ ...before, ...part }));
  const { look, current, error, again } = useSpaceLook(wished);
  const sound = hasWords(wished.title) && wished.title.length <= LIMITS.title && wished.purpose.length <= LIMITS.note;
  const addressFits = (wished.address === "" || SPACE_ADDRESS.test(wished.address)) && !look?.taken;
  const staged = useStaged({
    preview: sound && addressFits && current && look ? look.preview : null,
    apply: (acting) => {
      const { space = "", pages = [] } = look ?? {};
      const { title, purpose } = wished;
      return ask(startSpace, { body: { ...rulesOf(wished), title, purpose, space, pages, zone: ownZone(), ...acting } });
    },
    onDone: ({ id }) => {
      window.location.href = `/grid?place=${id}`;
    },
    again,
  });
  return (
    <div className={halves.view}>
      <Fields site={site} wished={wished} look={look} change={change} />
      <section className={halves.right} aria-label="How open it is">
        <h2>How open it is</h2>
        <Presets chosen={wished.preset} look={look} onChoose={(preset) => change({ preset })} />
        {error && (
          <p className="notice bad" role="alert">
            {error.message}
          </p>
        )}
        {look && <LivingGrid rows={look.rows} />}
        <ChangeSheet staged={staged} act="Make the space" folded="The ripple, person by person">
          {!sound && <p className="soft">It needs a name before it is made.</p>}
        </ChangeSheet>
      </section>
    </div>
  );
}

export default function NewSpaceView(props: ViewProps) {
  return (
    <QueryClientProvider client={queries}>
      <View {...props} />
    </QueryClientProvider>
  );
}
