import { type SQL, sql } from "drizzle-orm";

/** Many texts as one parameter, an array in the query. */
export const textArray = (list: readonly string[]): SQL =>
  sql`array(select jsonb_array_elements_text(${JSON.stringify(list)}::text::jsonb))`;
