/** The house rules that are no rules of access: as they are, and changed by edits of a change. */
import { inArray } from "drizzle-orm";
import type { HouseRulesView } from "../../../contracts/house.ts";
import { siteOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, HOUSE_RULES, type HouseRules, sameValue } from "../../../core/access/model/index.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { houseRules } from "../../db/schema/index.ts";

type Rule = keyof HouseRules;
const RULES = Object.keys(HOUSE_RULES) as Rule[];

/** All of them as they are now. */
export async function readHouseRules(tx: Pick<Tx, "select">): Promise<HouseRules> {
  const rows = await tx.select().from(houseRules).where(inArray(houseRules.rule, RULES));
  return { ...HOUSE_RULES, ...Object.fromEntries(rows.map(({ rule, value }) => [rule, value])) };
}

const houseEdits = (edits: readonly Edit[]) => edits.filter((edit) => edit.kind === "house");

/** Edits that do not start from the rules as they are. */
export async function houseConflicts(tx: Tx, edits: readonly Edit[]): Promise<EditConflict[]> {
  const own = houseEdits(edits);
  if (own.length === 0) return [];
  const now = await readHouseRules(tx);
  return own
    .filter(({ from, to }) => (Object.keys(to) as Rule[]).some((rule) => !sameValue(from[rule], now[rule])))
    .map((edit) => ({ edit, message: "the house rules were changed meanwhile" }));
}

export async function writeHouseRules(tx: Tx, edits: readonly Edit[]): Promise<void> {
  for (const { to } of houseEdits(edits))
    for (const [rule, value] of Object.entries(to))
      await tx.insert(houseRules).values({ rule, value }).onConflictDoUpdate({ target: houseRules.rule, set: { value } });
}

/** The house rules as they are, for site keepers. */
export const readHouse = (asker: string): Promise<HouseRulesView> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "changeHouse");
    const { id, title = "" } = siteOf(access.index).place;
    return { rules: await readHouseRules(tx), ceilings: access.index.document.ceilings, site: { id, name: title } };
  });
