import { type SQL, sql } from "drizzle-orm";

/** Many texts as one parameter, an array in the query: written as the database writes arrays, so that it knows how many they are. */
export const textArray = (list: readonly string[]): SQL => sql`${`{${list.map(quoted).join(",")}}`}::text[]`;

const quoted = (it: string): string => (/["\\]/.test(it) ? `"${it.replace(/["\\]/g, "\\$&")}"` : `"${it}"`);

/** Texts that hold some words: what stands for anything in a pattern stands for itself. */
export const holding = (words: string): string => `%${words.trim().replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
