/**
 * Lists, the mechanism: rows in an order that is whole (ties by id), a page at a time from where the last one ended. What has
 * no value comes after all that has one going down, and before it going up, and is a list of its own: so each page is
 * found where it begins, however far down that is, and one index serves both ways.
 */
import { type SQL, sql } from "drizzle-orm";
import { instantOf } from "../../core/access/model/index.ts";
import { textArray } from "../db/textArray.ts";
import { badRequest } from "../trouble.ts";

export type Direction = "up" | "down";
export type SortType = "text" | "instant" | "integer" | "texts";

export interface Cursor {
  /** As text; of several texts, as JSON; null: it has no value. */
  value: string | null;
  id: string;
}

/** A value of a column as it stands in a cursor. */
export function asText(value: unknown): string | null {
  if (value === null || value === undefined) return null;
  if (value instanceof Date) return value.toISOString();
  return Array.isArray(value) ? JSON.stringify(value) : String(value);
}

/** Where a page ended, as it travels. */
export const written = ({ value, id }: Cursor): string => Buffer.from(JSON.stringify([value, id])).toString("base64url");

const MOST_INTEGER = 2_147_483_647;
const isText = (it: unknown, most: number): it is string =>
  typeof it === "string" && it.length <= most && !it.includes("\0") && !/\p{Surrogate}/u.test(it);

/** An instant as it travels or as the database writes it: with a blank for the T, and a zone of hours alone, none as far away as 16. */
const INSTANT = /^(\d{4}-\d\d-\d\d)[T ](\d\d:\d\d:\d\d(?:\.\d{1,6})?)(?:Z|([+-](?:0\d|1[0-5]))(:\d\d)?)$/;

function isInstant(value: string): boolean {
  const [all, day, time, hours, minutes = ":00"] = INSTANT.exec(value) ?? [];
  return all !== undefined && !Number.isNaN(instantOf(`${day}T${time}${hours === undefined ? "Z" : hours + minutes}`));
}

/** Whether a text is a value of a kind of column: else the database would stumble over it. */
function isValue(value: string, type: SortType): boolean {
  if (type === "integer") return /^-?\d{1,10}$/.test(value) && Math.abs(Number(value)) <= MOST_INTEGER;
  if (type === "instant") return isInstant(value);
  if (type === "text") return true;
  const list = JSON.parse(value);
  return Array.isArray(list) && list.length <= 100 && list.every((it) => isText(it, 200));
}

/** Reads what `written` wrote; whoever makes one up hears that it is none. */
export function readCursor(text: string, type: SortType): Cursor {
  try {
    const [value, id, ...rest] = JSON.parse(Buffer.from(text, "base64url").toString("utf8"));
    const sound = value === null || (isText(value, 2_000) && isValue(value, type));
    if (sound && isText(id, 64) && rest.length === 0) return { value, id };
  } catch {
    // Told below.
  }
  throw badRequest("`after` is not where a page of this list ended. Leave it out to begin anew.");
}

function typed(value: string, type: SortType): SQL {
  if (type === "texts") return textArray(JSON.parse(value));
  return sql`${value}::${sql.raw({ text: "text", instant: "timestamptz", integer: "integer" }[type])}`;
}

export interface Sorting {
  column: SQL;
  type: SortType;
  id: SQL;
  direction: Direction;
  /** What counts as having a value; if absent, what is not null. */
  valued?: SQL | undefined;
}

interface Part {
  where: SQL;
  order: SQL;
  /** What the key of a row is, for where the page ends. */
  key: SQL;
}

/** What comes after where a page ended, in parts one after the other. */
export function partsAfter({ column, type, id, direction, valued }: Sorting, after: Cursor | null): Part[] {
  const is = valued ?? sql`${column} is not null`;
  const way = sql.raw(direction === "down" ? "desc" : "asc");
  const past = sql.raw(direction === "down" ? "<" : ">");
  const order = sql`${column} ${way} ${sql.raw(direction === "down" ? "nulls last" : "nulls first")}, ${id} ${way}`;
  const has = (from: Cursor | null): Part => ({
    where: from?.value == null ? is : sql`${is} and (${column}, ${id}) ${past} (${typed(from.value, type)}, ${from.id})`,
    order,
    key: column,
  });
  const hasNone = (from: Cursor | null): Part => ({
    where: from ? sql`not (${is}) and ${id} ${past} ${from.id}` : sql`not (${is})`,
    // Of nulls the index of the column has the order as well, and knows which they are.
    order: valued ? sql`${id} ${way}` : order,
    key: sql`null`,
  });
  if (after === null) return direction === "down" ? [has(null), hasNone(null)] : [hasNone(null), has(null)];
  if (after.value === null) return direction === "down" ? [hasNone(after)] : [hasNone(after), has(null)];
  return direction === "down" ? [has(after), hasNone(null)] : [has(after)];
}
