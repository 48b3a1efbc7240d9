/** The rules as they were, are, or will be by themselves (access-model.md, section 5: schedules that are not refused, in order; no routines). */
import type { AccessIndex } from "../../../core/access/index/index.ts";
import { type Instant, instantOf } from "../../../core/access/model/index.ts";
import { update } from "../../../core/access/update/index.ts";
import { type Access, readAccess } from "../../access/current.ts";
import { readAccessAsOf } from "../../access/past.ts";
import { presentInstant } from "../../clock.ts";
import type { Tx } from "../../db/client.ts";
import { badRequest } from "../../trouble.ts";
import { scheduledUpTo } from "./forecast.ts";

const YEAR = 366 * 86_400_000;
/** Further ahead nothing is set, and a mistyped year is found. */
const MOST_YEARS = 50;

/** A copy in which nothing is kept of another instant: what is worked out for one ahead takes no room from the present. */
const copyOf = (index: AccessIndex): AccessIndex => ({
  ...index,
  blocks: index.blocks.map((block) => ({ ...block, tables: null })),
  kept: { ...index.kept, cells: 0 },
});

async function ahead(tx: Tx, now: Access, at: Instant): Promise<Access> {
  let { index } = now;
  for (const it of await scheduledUpTo(tx, at)) {
    if (it.refused !== null) continue;
    const made = update(index, it.edits(index));
    if (made.ok) index = made.index;
  }
  return { ...now, index: index === now.index ? copyOf(index) : index, at };
}

/** Access as of an instant, behind or ahead; without one: now. */
export async function accessAt(tx: Tx, asOf?: string): Promise<Access> {
  if (asOf === undefined) return readAccess(tx);
  const at = instantOf(asOf);
  if (Number.isNaN(at)) throw badRequest("The instant must be an ISO 8601 instant, like 2026-03-01T12:00:00Z.");
  const present = presentInstant();
  if (at <= present) return readAccessAsOf(tx, asOf);
  if (at > present + MOST_YEARS * YEAR) throw badRequest(`That instant lies more than ${MOST_YEARS} years ahead. Ask for a nearer one.`);
  return ahead(tx, await readAccess(tx), at as Instant);
}
