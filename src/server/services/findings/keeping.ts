/** What looks sensitive in live texts, kept with every publication: where it stands, never the words. */
import { sql } from "drizzle-orm";
import type { PageBody } from "../../../core/content/index.ts";
import { type Finding, findingsIn, type Looking, lookFor, passagesOf } from "../../../core/findings/index.ts";
import { insertMany } from "../../db/bulk.ts";
import type { Tx } from "../../db/client.ts";
import { findings, findingsAside } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { keyed } from "../../secrets.ts";
import { readHouseRules } from "../house/houseRules.ts";

/** What a finding is told again by: the same for the same words on the same page, of no use for anything else. */
const signOf = (place: string, { kind, found }: Finding): string =>
  keyed(`${place}|${kind}|${found.normalize("NFKC").toLowerCase()}`).slice(0, 22);

export interface LiveText {
  id: string;
  body: PageBody;
}

type Row = typeof findings.$inferInsert;

/** What is found in a text, as rows. */
export const rowsOf = ({ id, body }: LiveText, looking: Looking): Row[] =>
  findingsIn(passagesOf(body), looking).map((it) => ({
    placeId: id,
    passage: it.passage,
    start: it.start,
    end: it.end,
    kind: it.kind,
    sign: signOf(id, it),
  }));

/** Writes what was found in the live texts of pages, in place of what was found before. */
export async function writeFindings(tx: Tx, ids: readonly string[], rows: readonly Row[]): Promise<void> {
  const those = textArray(ids);
  await tx.delete(findings).where(sql`${findings.placeId} = any(${those})`);
  if (rows.length > 0) await insertMany(tx, findings, rows);
  // What was set aside goes with the words it was about.
  await tx.execute(sql`
    delete from ${findingsAside} a where a.place_id = any(${those})
    and not exists (select 1 from ${findings} f where f.place_id = a.place_id and f.sign = a.sign)`);
}

/** Looks through texts that go live just now, in their transaction. */
export async function keepFindings(tx: Tx, texts: readonly LiveText[]): Promise<void> {
  const { sensitiveWords } = await readHouseRules(tx);
  const looking = lookFor(sensitiveWords);
  const ids = texts.map(({ id }) => id);
  await writeFindings(
    tx,
    ids,
    texts.flatMap((text) => rowsOf(text, looking)),
  );
}
