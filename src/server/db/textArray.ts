import { type Column, type SQL, sql } from "drizzle-orm";

/** Many texts as one parameter, an array in the query: written as the database writes arrays, so that it knows how many they are. */
export const textArray = (list: readonly string[]): SQL => sql`${`{${list.map(quoted).join(",")}}`}::text[]`;

/** Rows whose column holds one of these texts, however many they are: a list of parameters ends at 65,535 of them. */
export const among = (column: Column | SQL, texts: readonly string[]): SQL => sql`${column} = any(${textArray(texts)})`;

const quoted = (it: string): string => (/["\\]/.test(it) ? `"${it.replace(/["\\]/g, "\\$&")}"` : `"${it}"`);

/** Texts that hold some words: what stands for anything in a pattern stands for itself. */
export const holding = (words: string): string => `%${words.trim().replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
