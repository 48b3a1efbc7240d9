import { type SQL, sql } from "drizzle-orm";

/** Many texts as one parameter, an array in the query. */
export const textArray = (list: readonly string[]): SQL =>
  sql`array(select jsonb_array_elements_text(${JSON.stringify(list)}::text::jsonb))`;

/** Texts that hold some words: what stands for anything in a pattern stands for itself. */
export const holding = (words: string): string => `%${words.trim().replace(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
