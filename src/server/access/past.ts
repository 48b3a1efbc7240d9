/** The rules as they were: the whole access of the site rebuilt from what was in force at an instant. */

import { type AccessIndex, compile } from "../../core/access/index/index.ts";
import { instantAt } from "../../core/access/model/index.ts";
import { presentInstant } from "../clock.ts";
import { onLeavingDatabase, type Tx } from "../db/client.ts";
import { loadDocument } from "../db/document.ts";
import { badRequest } from "../trouble.ts";
import { type Access, newestSeq, readAccess } from "./current.ts";

/**
 * Access as of an instant: decisions are made by the rules, people and states of then, at that instant. Rules that ended
 * since count, rules that came later do not. Without an instant: now.
 */
export async function readAccessAsOf(tx: Tx, asOf?: string): Promise<Access> {
  if (asOf === undefined) return readAccess(tx);
  const at = instantAt(Date.parse(asOf));
  if (Number.isNaN(at)) throw badRequest("The instant must be an ISO 8601 instant, like 2026-03-01T12:00:00Z.");
  if (at > presentInstant()) throw badRequest("That instant lies ahead. Ask for one that has passed, or for now.");
  const seq = await newestSeq(tx, new Date(at));
  const now = await readAccess(tx, at);
  if (seq === now.seq) return now;
  if (seq === 0) throw badRequest("The site was not there yet at that instant.");
  const key = `${seq} as of ${now.seq}`;
  return { seq, index: kept.get(key) ?? keep(key, compile(await loadDocument(tx, seq))), at };
}

/**
 * The last few that were asked for: whoever looks back looks at several things as of the same day. For as long as nothing changes
 * alone: erasing takes titles and names out of the past as well.
 */
const kept = new Map<string, AccessIndex>();
onLeavingDatabase(() => kept.clear());
const MOST_KEPT = 2;

function keep(key: string, index: AccessIndex): AccessIndex {
  kept.set(key, index);
  const [oldest] = kept.keys();
  if (kept.size > MOST_KEPT && oldest !== undefined) kept.delete(oldest);
  return index;
}
