/** Registers: what stands by rule, place by place, with whoever made it so; filtered, sorted, as of a date, taken out as a file. */
import {
  exportRegister,
  NAMED_BY_RULES,
  type NamedByRules,
  REGISTER_SORTS,
  type Register,
  type RegisteredRule,
  type RegisterPage,
  type RegisterRow,
  type RegisterSort,
  readRegister,
} from "../../contracts/registers.ts";
import type { WhoMoved } from "../../contracts/slip.ts";
import { DateField } from "../../ui/DateField.tsx";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { Told, When } from "../../ui/When.tsx";
import { ReadOn } from "../list/ReadOn.tsx";
import { useList } from "../list/useList.ts";
import { ask } from "../shared/api.ts";
import { Formats } from "../shared/Formats.tsx";
import { useAddress } from "../shared/useAddress.ts";
import styles from "./registers.module.css";

export const REGISTER_NAMES: Readonly<Record<Register, string>> = {
  rules: "Places with rules",
  fences: "Fences",
  groups: "Grants of groups",
  steps: "Steppings in",
};

const SORT_WORDS: Readonly<Record<RegisterSort, string>> = {
  where: "by place",
  when: "newest rule first",
  in: "who lets in most",
  out: "who keeps out most",
};
const NAMED_WORDS: Readonly<Record<NamedByRules, string>> = {
  public: "the public",
  accounts: "everybody signed in",
  members: "all members",
  group: "a group",
  person: "one person",
};

interface State {
  register: Register;
  space: string;
  words: string;
  names: NamedByRules | "";
  sort: RegisterSort;
  at: string;
}

const readState = (of: Register) => (): State => {
  const query = new URLSearchParams(window.location.search);
  const text = (name: string) => query.get(name) ?? "";
  return {
    register: of,
    space: text("space"),
    words: text("words"),
    names: NAMED_BY_RULES.find((it) => it === text("names")) ?? "",
    sort: REGISTER_SORTS.find((it) => it === text("sort")) ?? "where",
    at: text("at"),
  };
};

function addressOf({ register, sort, ...rest }: State): string {
  const given = Object.entries(rest).filter(([, value]) => value !== "");
  return `?${new URLSearchParams([["register", register], ...given, ...(sort === "where" ? [] : [["sort", sort]])])}`;
}

const filterOf = ({ register, space, words, names, sort, at }: State) => ({
  of: register,
  ...(space ? { space } : {}),
  ...(words ? { words: words.slice(0, 100) } : {}),
  ...(names ? { names } : {}),
  ...(sort === "where" ? {} : { sort }),
  ...(at ? { at } : {}),
});

const counted = ({ outsiders, guests, members }: WhoMoved): string =>
  [
    outsiders > 0 ? "the public" : "",
    guests > 0 ? `${guests.toLocaleString("en")} ${guests === 1 ? "guest" : "guests"}` : "",
    members > 0 ? `${members.toLocaleString("en")} ${members === 1 ? "member" : "members"}` : "",
  ]
    .filter(Boolean)
    .join(", ") || "nobody";

/** Rules that one entry made stand together. */
function byEntry(rules: readonly RegisteredRule[]): RegisteredRule[][] {
  const found: RegisteredRule[][] = [];
  for (const rule of rules) {
    const last = found.at(-1);
    if (last && last[0]?.entry?.seq === rule.entry?.seq) last.push(rule);
    else found.push([rule]);
  }
  return found;
}

const Rules = ({ place, rules }: { place: string; rules: RegisteredRule[] }) => {
  const entry = rules[0]?.entry;
  return (
    <li>
      {rules.map(({ text }) => (
        <span key={text} className={styles.rule}>
          <Told text={text} />
        </span>
      ))}
      {entry && (
        <small className="soft">
          <a href={`/ledger?place=${encodeURIComponent(place)}`}>entry {entry.seq}</a>, {entry.who}, <When instant={entry.at} as="day" />
          {entry.note && (
            <>
              : “<span dir="auto">{entry.note}</span>”
            </>
          )}
        </small>
      )}
    </li>
  );
};

function Line({ row, of, at }: { row: RegisterRow; of: Register; at: string }) {
  const outside = row.letsIn !== null && row.letsIn.outsiders + row.letsIn.guests > 0;
  const then = at === "" ? "" : `&at=${encodeURIComponent(at)}`;
  return (
    <tr data-outside={outside}>
      <td>
        <a href={`/grid?place=${encodeURIComponent(row.place.id)}&tab=rules${then}`} dir="auto">
          {row.place.name || "an erased page"}
        </a>
        {row.path.length > 0 && (
          <small className="soft" dir="auto">
            {" "}
            {row.path.join(" / ")}
          </small>
        )}
      </td>
      {row.who !== null && <td dir="auto">{row.who}</td>}
      <td>
        <ul>
          {byEntry(row.rules).map((rules, i) => (
            <Rules key={i} place={row.place.id} rules={rules} />
          ))}
        </ul>
      </td>
      {of === "rules" && <td>{row.letsIn && counted(row.letsIn)}</td>}
      {(of === "rules" || of === "fences") && <td>{row.keepsOut && counted(row.keepsOut)}</td>}
      {of === "steps" && <td>{row.until ? <When instant={row.until} /> : "a change of rules: until it is changed back"}</td>}
    </tr>
  );
}

const HEADS: Readonly<Record<Register, string[]>> = {
  rules: ["Place", "Rules of its own", "Lets in", "Keeps out"],
  fences: ["Place", "Fences", "Keeps out"],
  groups: ["Place", "Group", "What it is granted"],
  steps: ["Place", "Who", "Why, and when", "Until"],
};

const among =
  (none: string, list: readonly (readonly [string, string])[]) =>
  async (words: string): Promise<Choice[]> =>
    [["", none] as const, ...list].flatMap(([key, name]) =>
      name.toLowerCase().includes(words.trim().toLowerCase()) ? [{ key, name, note: "" }] : [],
    );

interface BarProps {
  state: State;
  first: RegisterPage | undefined;
  change(part: Partial<State>, step?: "small"): void;
}

function Bar({ state, first, change }: BarProps) {
  const spaces = (first?.spaces ?? []).map(({ id, name }) => [id, name] as const);
  const named = NAMED_BY_RULES.map((it) => [it, NAMED_WORDS[it]] as const);
  const sorts = REGISTER_SORTS.map((it) => [it, SORT_WORDS[it]] as const);
  const chosen = (key: string, list: readonly (readonly [string, string])[]): Choice | null => {
    const found = list.find(([it]) => it === key);
    return found ? { key, name: found[1], note: "" } : null;
  };
  return (
    <div className={`viewBar ${styles.bar}`}>
      <Picker
        label="Space"
        chosen={chosen(state.space, spaces)}
        find={among("Any space", spaces)}
        onChoose={({ key }) => change({ space: key })}
      />
      {state.register !== "steps" && (
        <Picker
          label="Names"
          chosen={chosen(state.names, named)}
          find={among("Anybody", named)}
          onChoose={({ key }) => change({ names: key as NamedByRules | "" })}
        />
      )}
      <label className="beside">
        Holds
        <input
          className="field"
          aria-label="Title or name holds"
          value={state.words}
          onChange={(event) => change({ words: event.target.value }, "small")}
        />
      </label>
      {(state.register === "rules" || state.register === "fences") && (
        <Picker
          label="Order"
          chosen={chosen(state.sort, sorts)}
          find={async (words) => (await among("", sorts)(words)).filter(({ key }) => key !== "")}
          onChoose={({ key }) => change({ sort: key as RegisterSort })}
        />
      )}
      <span className={styles.asOf}>
        <span aria-hidden="true">As of</span>
        <DateField label="As of" as="moment" none="now" value={state.at} onChange={(at) => change({ at })} />
      </span>
      <span className={styles.right}>
        <Formats of={exportRegister} query={filterOf(state)} />
        {first && <span className="soft">{first.total.toLocaleString("en")}</span>}
      </span>
    </div>
  );
}

export function Registers({ of }: { of: Register }) {
  const [state, change] = useAddress<State>(readState(of), addressOf);
  const filter = filterOf(state);
  const { rows, query } = useList<RegisterRow, RegisterPage>(["register", filter], (after) =>
    ask(readRegister, { query: { ...filter, ...(after === undefined ? {} : { after }) } }),
  );
  const [first] = query.data?.pages ?? [];
  return (
    <div className={styles.view} data-then={state.at !== ""}>
      <Bar state={state} first={first} change={change} />
      <div className={styles.scroller}>
        {query.error && (
          <p className="notice bad" role="alert">
            {query.error.message}
          </p>
        )}
        {first && rows.length === 0 && <p className="message">Nothing of this kind fits, as far as you may see rules.</p>}
        {rows.length > 0 && (
          <table className={styles.table} data-of={of}>
            <thead>
              <tr>
                {HEADS[of].map((head) => (
                  <th key={head} scope="col">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <Line key={row.key} row={row} of={of} at={state.at} />
              ))}
            </tbody>
          </table>
        )}
        <ReadOn query={query} />
      </div>
    </div>
  );
}
