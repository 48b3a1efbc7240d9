/**
 * The words of the ledger: notes, reasons, names. They stand beside the chain, which holds salted hashes of them: erasing
 * words and salt leaves the chain as it was. In the entry itself there are ids and numbers only.
 */
import { randomBytes } from "node:crypto";
import { and, eq, inArray, sql } from "drizzle-orm";
import type { Edit, Seq } from "../../core/access/model/index.ts";
import type { Tx } from "../db/client.ts";
import { ledgerWords } from "../db/schema/index.ts";
import { textArray } from "../db/textArray.ts";
import { sha256 } from "../secrets.ts";

/** Words by the path they stand at: `note`, `reason`, `edits.3.put.name`. */
export type Words = Record<string, string>;

export interface Word {
  path: string;
  text: string;
  salt: string;
}

/** Fields of things in edits that hold words and not ids: a text, or a list with words in it. */
const WORD_FIELDS: Partial<Record<Edit["kind"], readonly string[]>> = {
  person: ["name"],
  group: ["name"],
  pledge: ["why"],
  settings: ["name", "address", "purpose"],
  contents: ["entries"],
  flag: ["note", "reason", "quote"],
};
const SIDES = ["remove", "put"] as const;

type Side = (typeof SIDES)[number];
type Sides = Partial<Record<Side, Record<string, string | unknown[]>>>;

/** Where an edit may hold words. */
const wordsIn = (edit: Edit): (readonly [Side, string])[] =>
  (WORD_FIELDS[edit.kind] ?? []).flatMap((field) => SIDES.map((side) => [side, field] as const));

/** Edits without their words, and the words by path. */
export function withoutWords(edits: readonly Edit[]): { edits: Edit[]; words: Words } {
  const words: Words = {};
  const bare = edits.map((edit, i) => {
    const copy = { ...edit } as Edit & Sides;
    for (const [side, field] of wordsIn(edit)) {
      const { [field]: text, ...rest } = copy[side] ?? {};
      // An empty one tells nothing, and stays.
      if (text === undefined || text.length === 0) continue;
      words[`edits.${i}.${side}.${field}`] = typeof text === "string" ? text : JSON.stringify(text);
      Object.assign(copy, { [side]: rest });
    }
    return copy as Edit;
  });
  return { edits: bare, words };
}

/** Edits with their words again, as far as these were not erased. */
export function joinWords(edits: readonly Edit[], words: Readonly<Words>): Edit[] {
  return edits.map((edit, i) => {
    const copy = { ...edit } as Edit & Sides;
    for (const [side, field] of wordsIn(edit)) {
      const text = words[`edits.${i}.${side}.${field}`];
      if (text === undefined || !copy[side]) continue;
      Object.assign(copy, { [side]: { ...copy[side], [field]: edit.kind === "contents" ? JSON.parse(text) : text } });
    }
    return copy as Edit;
  });
}

/** The hash of one word, as the chain holds it. */
export const hashOfWord = ({ path, text, salt }: Word): string => sha256(`${salt}\n${path}\n${text}`);

/** Gives each word a salt of its own. Empty ones are none. */
export const salted = (words: Readonly<Words>): Word[] =>
  Object.entries(words)
    .filter(([, text]) => text !== "")
    .map(([path, text]) => ({ path, text, salt: randomBytes(16).toString("base64url") }));

/** The words of some entries, or of one kind in them, by number. */
export async function wordsOf(tx: Pick<Tx, "select">, seqs: readonly Seq[], path?: string): Promise<Map<Seq, Words>> {
  const found = new Map<Seq, Words>();
  if (seqs.length === 0) return found;
  const rows = await tx
    .select()
    .from(ledgerWords)
    .where(and(inArray(ledgerWords.seq, [...seqs]), path === undefined ? undefined : eq(ledgerWords.path, path)));
  for (const row of rows) found.set(row.seq, { ...found.get(row.seq), [row.path]: row.text });
  return found;
}

/** What was said of an entry: its note, and the reason where one was asked for. */
export const saidOf = (words: Words | undefined): string => [words?.note, words?.reason].filter(Boolean).join(" — ");

/** Entries with the words of their edits, and what was said of each. */
export async function withWords<Row extends { seq: Seq; edits: Edit[] }>(
  tx: Pick<Tx, "select">,
  rows: readonly Row[],
): Promise<(Row & { note: string })[]> {
  const words = await wordsOf(
    tx,
    rows.map(({ seq }) => seq),
  );
  return rows.map((row) => ({ ...row, edits: joinWords(row.edits, words.get(row.seq) ?? {}), note: saidOf(words.get(row.seq)) }));
}

/**
 * Erases the words of edits of a kind about one of these things, and their salt with them; the chain still verifies.
 * `but`: a word that stays, since it says nothing.
 */
export async function eraseWordsOfEdits(
  tx: Tx,
  { kind, ids, but = "" }: { kind: "settings" | "contents" | "flag" | "person"; ids: readonly string[]; but?: string },
): Promise<void> {
  const about = kind === "person" ? "person" : "place";
  const list = textArray(ids);
  // Places have an index of their entries; people are few who are erased.
  const among = kind !== "person" ? sql`l.places && ${list}` : sql`true`;
  const fields = (WORD_FIELDS[kind] ?? []).join("|");
  await tx.execute(sql`
    delete from ledger_words w using ledger l
    where l.seq = w.seq and ${among} and w.path ~ ${`^edits\\.\\d+\\.(put|remove)\\.(${fields})$`} and w.text <> ${but}
      and l.edits -> split_part(w.path, '.', 2)::int ->> 'kind' = ${kind}
      and l.edits -> split_part(w.path, '.', 2)::int ->> ${about} = any(${list})`);
}
