/** Keys for programs. */
import { pgTable, text } from "drizzle-orm/pg-core";
import type { TokenScope } from "../../../contracts/tokens.ts";
import { instant } from "./columns.ts";

/** Keys for programs. The token itself is shown once and kept as a hash. */
export const tokens = pgTable("tokens", {
  id: text("id").primaryKey(),
  name: text("name").notNull(),
  hash: text("hash").notNull().unique(),
  scopes: text("scopes").array().$type<TokenScope[]>().notNull(),
  madeBy: text("made_by").notNull(),
  madeAt: instant("made_at").notNull(),
  until: instant("until"),
  usedAt: instant("used_at"),
  withdrawnAt: instant("withdrawn_at"),
});
