/** A table of people as it comes: cells, columns by their names or by hand, each row as what it says. */
import papaparse from "papaparse";
import { MOST_ROWS, PEOPLE_FIELDS, type PeopleField } from "../../../contracts/bringing.ts";
import { badRequest } from "../../trouble.ts";
import { plain } from "../people/names.ts";
import { startsAFormula } from "../programs/exports/formats.ts";

export type Columns = Partial<Record<PeopleField, number>>;

/** What columns are called, in small letters without accents. */
const NAMES: Readonly<Record<PeopleField, readonly string[]>> = {
  name: ["name", "full name", "person", "who"],
  address: ["address", "mail address", "mail", "email", "e-mail", "email address", "e-mail address"],
  kind: ["kind", "type", "as"],
  until: ["until", "end", "last day", "ends"],
  groups: ["groups", "group", "teams", "team"],
};

/** A cell that was disarmed when it was taken out is read as it was. */
const armed = (cell: string): string => (cell.startsWith("'") && startsAFormula(cell.slice(1)) ? cell.slice(1) : cell);

export interface Row {
  line: number;
  cells: Partial<Record<PeopleField, string>>;
}

export interface Table {
  head: string[];
  columns: Columns;
  rows: Row[];
}

/** Columns by hand where they were said, else by their names. */
function columnsOf(head: readonly string[], said: Columns): Columns {
  const names = head.map((it) => plain(it).trim());
  const columns: Columns = {};
  for (const field of PEOPLE_FIELDS) {
    const at = said[field] ?? names.findIndex((name) => NAMES[field].includes(name));
    if (at >= head.length) throw badRequest(`There is no column ${at + 1}: the table has ${head.length}.`);
    if (at >= 0) columns[field] = at;
  }
  return columns;
}

const DELIMITERS = [",", ";", "\t"] as const;

/** What stands between cells: whatever stands most often in the head. (The library guesses by the rows below, and needs many.) */
function delimiterOf(text: string): string {
  const head = text.slice(0, text.search(/[\r\n]|$/)).replace(/"[^"]*"/g, "");
  const times = (it: string) => head.split(it).length;
  return DELIMITERS.reduce<string>((most, it) => (times(it) > times(most) ? it : most), DELIMITERS[0]);
}

export function readTable(text: string, said: Columns): Table {
  // Marks of the encoding are no part of the first name; a replaced character is no part of any.
  const sound = text.replace(/^\uFEFF/, "");
  if (sound.includes("\uFFFD"))
    throw badRequest("The table is not in the encoding it was read as: some characters are none. Save it as UTF-8 or UTF-16.");
  const { data, errors } = papaparse.parse<string[]>(sound, { skipEmptyLines: false, delimiter: delimiterOf(sound) });
  const quotes = errors.find(({ type }) => type === "Quotes");
  if (quotes) throw badRequest(`Line ${(quotes.row ?? 0) + 1} has a quotation mark that is not closed, or stands where none can.`);
  const [head = [], ...lines] = data;
  if (head.every((it) => it.trim() === "")) throw badRequest("The table has no head: its first line names the columns.");
  if (lines.length > MOST_ROWS) throw badRequest(`The table has ${lines.length} rows; at most ${MOST_ROWS} are brought in at once.`);
  const columns = columnsOf(head, said);
  if (columns.address === undefined)
    throw badRequest(`No column holds the mail address, by which people are told apart. There are: ${head.slice(0, 20).join(", ")}.`);
  const rows = lines.flatMap((cells, i): Row[] => {
    if (cells.every((it) => it.trim() === "")) return [];
    const of = (field: PeopleField) => {
      const at = columns[field];
      return at === undefined || at >= cells.length ? {} : { [field]: armed((cells[at] ?? "").trim()) };
    };
    return [{ line: i + 2, cells: Object.assign({}, ...PEOPLE_FIELDS.map(of)) }];
  });
  return { head: head.map((it) => it.trim()), columns, rows };
}
