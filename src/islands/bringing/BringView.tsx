/** A table of people brought in: which column is what at the left; row by row what it would do, and the ripple, at the right. */
import { QueryClientProvider } from "@tanstack/react-query";
import { useState } from "react";
import {
  bringTable,
  exportPeople,
  LARGEST_TABLE,
  lookAtTable,
  type Outcome,
  PEOPLE_FIELDS,
  type PeopleField,
  type TableLook,
} from "../../contracts/bringing.ts";
import { ChangeSheet } from "../change/ChangeSheet.tsx";
import { useStaged } from "../change/staged.ts";
import { tray } from "../change/store.ts";
import { useLook } from "../change/useLook.ts";
import { ask, queries } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import halves from "../shared/halves.module.css";
import styles from "./bringing.module.css";

type Columns = Partial<Record<PeopleField, number>>;

const FIELD_WORDS: Readonly<Record<PeopleField, string>> = {
  name: "Name",
  address: "Mail address",
  kind: "Kind: member or guest",
  until: "Until",
  groups: "Groups, with | between them",
};
const OUTCOME_WORDS: Readonly<Record<Outcome, string>> = {
  added: "added",
  changed: "changed",
  same: "as they are",
  refused: "refused, left out",
};
const OUTCOMES: Outcome[] = ["refused", "changed", "added", "same"];

/** The text of a file: UTF-16 by its mark, else UTF-8; anything else is said. */
async function textOf(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  const wide = bytes[0] === 0xff && bytes[1] === 0xfe ? "utf-16le" : bytes[0] === 0xfe && bytes[1] === 0xff ? "utf-16be" : null;
  if (bytes.length > LARGEST_TABLE)
    throw new Error(`The file has ${bytes.length.toLocaleString("en")} bytes; at most ${LARGEST_TABLE.toLocaleString("en")} are read.`);
  try {
    return new TextDecoder(wide ?? "utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new Error("The file is neither UTF-8 nor UTF-16. Save it as one of these.");
  }
}

interface ColumnsProps {
  look: TableLook;
  columns: Columns;
  onChange(columns: Columns): void;
}

/** Which column holds what: found by its name, or chosen. */
const ColumnsOf = ({ look, columns, onChange }: ColumnsProps) => (
  <>
    <h2>Columns</h2>
    {PEOPLE_FIELDS.map((field) => (
      <label key={field} className={styles.column}>
        <span>{FIELD_WORDS[field]}</span>
        <select
          className="field"
          value={columns[field] ?? look.columns[field] ?? ""}
          onChange={(event) => onChange({ ...columns, ...(event.target.value === "" ? {} : { [field]: Number(event.target.value) }) })}
        >
          {look.columns[field] === undefined && <option value="">none</option>}
          {look.head.map((name, i) => (
            <option key={i} value={i}>
              {name || `column ${i + 1}`}
            </option>
          ))}
        </select>
      </label>
    ))}
  </>
);

const Rows = ({ look }: { look: TableLook }) => (
  <>
    <p className={styles.counts} role="status">
      {OUTCOMES.filter((it) => look.counts[it] > 0).map((it) => (
        <span key={it} data-outcome={it}>
          {look.counts[it].toLocaleString("en")} {OUTCOME_WORDS[it]}
        </span>
      ))}
    </p>
    {look.groups.length > 0 && <p>Groups that are made: {look.groups.join(", ")}.</p>}
    <div className={styles.rows}>
      <table>
        <thead>
          <tr>
            <th scope="col">Line</th>
            <th scope="col">Who</th>
            <th scope="col">What</th>
          </tr>
        </thead>
        <tbody>
          {look.rows.map((row) => (
            <tr key={row.line} data-outcome={row.outcome}>
              <td>{row.line}</td>
              <td dir="auto">
                {row.name} <small className="soft">{row.address}</small>
              </td>
              <td>
                {row.outcome}: {row.says}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  </>
);

function View() {
  const [table, setTable] = useState<string | null>(null);
  const [columns, setColumns] = useState<Columns>({});
  const [problem, setProblem] = useState("");
  const [done, setDone] = useState(false);
  const order = table === null ? null : { table, columns };
  const { look, current, error, again } = useLook("table", order, (body) => ask(lookAtTable, { body }), !done);
  const read = async (file: File | undefined) => {
    setDone(false);
    setColumns({});
    setProblem("");
    setTable(null);
    try {
      if (file) setTable(await textOf(file));
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const shown = error ? undefined : look;
  const staged = useStaged({
    preview: current ? (shown?.preview ?? null) : null,
    apply: (acting) => ask(bringTable, { body: { table: table ?? "", columns, ...acting } }),
    onDone: ({ seq }) => {
      setDone(true);
      tray.done(seq, "People brought in from a table");
      void queries.invalidateQueries();
    },
    again,
  });
  return (
    <div className={halves.view}>
      <section className={halves.left} aria-label="The table">
        <h1>A table of people</h1>
        <p className="soft">
          CSV in UTF-8 or UTF-16, with commas, semicolons or tabs. People are told apart by their mail address; who does not stand in the
          table is left alone. They get no mail by this: ask them in afterwards.
        </p>
        <label className={styles.column}>
          <span>File</span>
          <input type="file" accept=".csv,.tsv,.txt,text/csv" onChange={(event) => void read(event.target.files?.[0])} />
        </label>
        {(problem || error) && (
          <p className="notice bad" role="alert">
            {problem || error?.message}
          </p>
        )}
        {shown && <ColumnsOf look={shown} columns={columns} onChange={setColumns} />}
        <h2>Take out</h2>
        <p>All people with their groups:</p>
        <p className="acts">
          <Formats of={exportPeople} query={{}} />
        </p>
      </section>
      <section className={halves.right} aria-label="What it does">
        <h2>What it does</h2>
        {done ? (
          <p className="notice good" role="status">
            Done. <a href="/people">All people</a>
          </p>
        ) : table === null ? (
          <p className="soft">
            Row by row what would be added, changed, left alone or refused, and why, stands here before anything is done.
          </p>
        ) : (
          shown && (
            <>
              <Rows look={shown} />
              {shown.preview ? (
                <ChangeSheet staged={staged} act="Bring them in" folded="The ripple" />
              ) : (
                <p className="soft">Nothing in this table adds or changes anybody.</p>
              )}
            </>
          )
        )}
      </section>
    </div>
  );
}

export default function BringView() {
  return (
    <QueryClientProvider client={queries}>
      <View />
    </QueryClientProvider>
  );
}
