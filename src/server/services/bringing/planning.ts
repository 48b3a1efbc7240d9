/** What each row of a table comes to: somebody added, changed, left as they are, or refused and why; pure. */
import { isEmail } from "class-validator";
import type { Outcome, TableRow } from "../../../contracts/bringing.ts";
import { type AccessDocument, type Edit, endOf, type Instant, instantOf, type Person } from "../../../core/access/model/index.ts";
import { hasWords, isLine, LIMITS } from "../../../core/words.ts";
import { plain } from "../people/names.ts";
import type { Row } from "./reading.ts";

export interface Known {
  document: AccessDocument;
  /** Ids by address, as it is kept. */
  people: ReadonlyMap<string, string>;
  at: Instant;
  newPerson(address: string): string;
  newGroup(name: string): string;
}

export interface Planned {
  rows: TableRow[];
  counts: Record<Outcome, number>;
  edits: Edit[];
  /** Names of groups that are made. */
  groups: string[];
  /** Addresses of those added, by their ids. */
  addresses: { id: string; name: string; email: string }[];
}

/** A day in a table: an instant, a day (its last moment, in UTC), or nothing. */
function endIn(cell: string | undefined): string | null | undefined {
  if (cell === undefined) return undefined;
  if (cell === "") return null;
  const day = /^\d{4}-\d{2}-\d{2}$/.test(cell) ? `${cell}T23:59:59.999Z` : cell;
  const instant = instantOf(day);
  return Number.isNaN(instant) ? undefined : new Date(instant).toISOString();
}

class Planning {
  readonly out: Planned = { rows: [], counts: { added: 0, changed: 0, same: 0, refused: 0 }, edits: [], groups: [], addresses: [] };
  private readonly seen = new Map<string, number>();
  private readonly people: ReadonlyMap<string, Person>;
  private readonly groups: Map<string, { id: string; members: Set<string> }[]>;

  constructor(private readonly known: Known) {
    const { people, groups } = known.document;
    this.people = new Map(people.map((it) => [it.id, it]));
    this.groups = new Map();
    for (const { id, name, members } of groups) {
      const key = plain(name ?? id);
      const group = { id, members: new Set(members.flatMap((it) => ("person" in it ? [it.person] : []))) };
      this.groups.set(key, [...(this.groups.get(key) ?? []), group]);
    }
  }

  add({ line, cells }: Row): void {
    const address = (cells.address ?? "").normalize("NFC").toLowerCase();
    const tell = (outcome: Outcome, says: string) => {
      this.out.counts[outcome]++;
      this.out.rows.push({ line, outcome, name: cells.name ?? "", address, says });
    };
    const refusal = this.refusalOf(address, cells) || this.repeated(address, line);
    const said: Said = refusal ? { refused: refusal } : this.said(address, cells);
    if (said.refused !== undefined) tell("refused", said.refused);
    else tell(said.outcome, said.says.join(", ") || "As it is already.");
  }

  private said(address: string, cells: Row["cells"]): Said {
    const id = this.known.people.get(address);
    const person = id === undefined ? undefined : this.people.get(id);
    return person ? this.change(person, cells) : this.addNew(address, cells);
  }

  private repeated(address: string, line: number): string {
    const earlier = this.seen.get(address);
    if (earlier === undefined) this.seen.set(address, line);
    return earlier === undefined ? "" : `The same address stands in line ${earlier}.`;
  }

  /** What is wrong with a row by itself. */
  private refusalOf(address: string, { name, kind, until }: Row["cells"]): string {
    if (address === "") return "There is no mail address.";
    if (!isEmail(address) || address.length > 200) return `“${address.slice(0, 60)}” is no mail address.`;
    if (name !== undefined && name.length > LIMITS.group) return `The name has more than ${LIMITS.group} characters.`;
    if (name !== undefined && !isLine(name)) return "The name must be one line.";
    if (kind !== undefined && !["", "member", "guest"].includes(kind.toLowerCase()))
      return `“${kind.slice(0, 40)}” is neither member nor guest.`;
    if (until !== undefined && endIn(until) === undefined) return `“${until.slice(0, 40)}” is no day: write it as 2027-01-31.`;
    return "";
  }

  private addNew(address: string, cells: Row["cells"]): Said {
    const name = cells.name ?? "";
    if (!hasWords(name)) return { refused: "There is no name." };
    const kind = cells.kind?.toLowerCase() === "guest" ? "guest" : "member";
    const until = endIn(cells.until) ?? null;
    if (endOf(until) <= this.known.at) return { refused: "Their end has passed already." };
    const groups = this.groupsNamed(cells.groups);
    if (typeof groups === "string") return { refused: groups };
    const id = this.known.newPerson(address);
    this.out.edits.push({ kind: "person", person: id, put: { id, name, kind, status: "active", ...(until === null ? {} : { until }) } });
    this.out.addresses.push({ id, name, email: address });
    const into = this.putInto(groups, id);
    return { outcome: "added", says: [kind, ...(until === null ? [] : [`until ${until.slice(0, 10)}`]), ...into] };
  }

  private change(person: Person, cells: Row["cells"]): Said {
    const kind = cells.kind?.toLowerCase() ?? "";
    if (kind !== "" && kind !== person.kind) return { refused: `They are a ${person.kind}; what kind somebody is changes in their slip.` };
    if (person.status === "suspended") return { refused: "They are suspended: let them back in first." };
    const groups = this.groupsNamed(cells.groups);
    if (typeof groups === "string") return { refused: groups };
    const says: string[] = [];
    const { until: _, ...rest } = person;
    let put: Person = person;
    if (cells.name !== undefined && hasWords(cells.name) && cells.name !== person.name) {
      put = { ...put, name: cells.name };
      says.push(`called ${cells.name} (before: ${person.name ?? ""})`);
    }
    const until = endIn(cells.until);
    if (until !== undefined && endOf(until) !== endOf(person.until)) {
      if (endOf(until) <= this.known.at) return { refused: "Their end has passed already." };
      put = { ...rest, ...(put.name === undefined ? {} : { name: put.name }), ...(until === null ? {} : { until }) };
      says.push(until === null ? "without an end" : `until ${until.slice(0, 10)}`);
    }
    if (put !== person) this.out.edits.push({ kind: "person", person: person.id, remove: person, put });
    says.push(...this.putInto(groups, person.id));
    return { outcome: says.length > 0 ? "changed" : "same", says };
  }

  /** Names of groups in a cell, each once; why not, where a name is that of several. */
  private groupsNamed(cell: string | undefined): string[] | string {
    const names = [...new Map((cell ?? "").split(/[|/\n]/).map((it) => [plain(it.trim()), it.trim()])).values()].filter(Boolean);
    const unclear = names.find((name) => (this.groups.get(plain(name))?.length ?? 0) > 1);
    if (unclear !== undefined) return `Several groups are called ${unclear}.`;
    const long = names.find((name) => name.length > LIMITS.group || !hasWords(name));
    return long === undefined ? names : `“${long.slice(0, 40)} …” is no name of a group.`;
  }

  /** Puts somebody into groups, which are made where they are not there. */
  private putInto(names: readonly string[], person: string): string[] {
    return names.flatMap((name) => {
      const group = this.groups.get(plain(name))?.[0] ?? this.made(name);
      if (group.members.has(person)) return [];
      group.members.add(person);
      this.out.edits.push({ kind: "member", group: group.id, put: { person } });
      return [`into ${name}`];
    });
  }

  private made(name: string) {
    const group = { id: this.known.newGroup(name), members: new Set<string>() };
    this.groups.set(plain(name), [group]);
    this.out.edits.push({ kind: "group", group: group.id, put: { id: group.id, name } });
    this.out.groups.push(name);
    return group;
  }
}

type Said = { refused: string; outcome?: undefined; says?: undefined } | { refused?: undefined; outcome: Outcome; says: string[] };

/** Plans the rows of a table, in their order; those refused come to nothing. */
export function planTable(known: Known, rows: readonly Row[]): Planned {
  const planning = new Planning(known);
  for (const row of rows) planning.add(row);
  return planning.out;
}
