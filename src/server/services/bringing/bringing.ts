/** Bringing in people and groups from a table: looked at row by row, then done as one change; and taking them out as one. */
import { isNull } from "drizzle-orm";
import type { BringTableBody, LookAtTableBody, Outcome, PeopleExportQuery, TableLook } from "../../../contracts/bringing.ts";
import type { Made } from "../../../contracts/change.ts";
import { membershipsOf } from "../../../core/access/groups/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { inChange, inSnapshot, type Tx } from "../../db/client.ts";
import { invitations, user } from "../../db/schema/index.ts";
import { idOf } from "../../ids.ts";
import { badRequest } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { groupName } from "../people/names.ts";
import { streamed } from "../programs/exports/formats.ts";
import { type Planned, planTable } from "./planning.ts";
import { readTable } from "./reading.ts";

const MOST_SHOWN = 400;
const FIRST: Readonly<Record<Outcome, number>> = { refused: 0, changed: 1, added: 2, same: 3 };

async function checkFirst(maker: string): Promise<void> {
  const access = await accessNow();
  need(access, subjectFor(access, maker), "changePeople");
}

/** An id that nobody and nothing has: of the same words the same. */
function freeId(access: Access, ...words: string[]): string {
  const { index } = access;
  for (let n = 0; ; n++) {
    const id = idOf(...words, n);
    if (index.subjectNumbers.get(`person:${id}`) === undefined && !index.document.groups.some((it) => it.id === id)) return id;
  }
}

async function planned(
  tx: Tx,
  access: Access,
  { table, columns }: LookAtTableBody,
): Promise<{ read: ReturnType<typeof readTable>; plan: Planned }> {
  const read = readTable(table, columns);
  const rows = await tx.select({ id: user.id, email: user.email }).from(user);
  // Whoever was asked in and has not taken it up is known by the address they were asked in by.
  const asked = await tx
    .select({ id: invitations.personId, email: invitations.email })
    .from(invitations)
    .where(isNull(invitations.outcome));
  const plan = planTable(
    {
      document: access.index.document,
      people: new Map([...asked, ...rows].map(({ id, email }) => [email, id])),
      at: access.at,
      newPerson: (address) => freeId(access, "brought", address),
      newGroup: (name) => freeId(access, "group", name),
    },
    read.rows,
  );
  return { read, plan };
}

export const lookAtTableHere = (maker: string, order: LookAtTableBody): Promise<TableLook> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const { read, plan } = await planned(tx, access, order);
    const preview = plan.edits.length === 0 ? null : previewOf(await planChange(tx, { maker, edits: plan.edits }));
    const rows = [...plan.rows].sort((a, b) => FIRST[a.outcome] - FIRST[b.outcome] || a.line - b.line).slice(0, MOST_SHOWN);
    return { head: read.head, columns: read.columns, counts: plan.counts, groups: plan.groups.slice(0, MOST_SHOWN), rows, preview };
  });

export const lookAtTable = ofWholeSite("lookAtTableHere", checkFirst, lookAtTableHere);

/** So many addresses are noted at once. */
const AT_ONCE = 1_000;

export const bringTableHere = (maker: string, order: BringTableBody): Promise<Made> =>
  inChange(async (tx) => {
    const access = await readAccess(tx);
    const { plan } = await planned(tx, access, order);
    if (plan.edits.length === 0) throw badRequest("Nothing in this table adds or changes anybody.");
    const { note, seen, reason } = order;
    const entry = await makeChange(tx, { maker, edits: plan.edits, act: "bringPeople", note, seen, ...(reason ? { reason } : {}) });
    for (let from = 0; from < plan.addresses.length; from += AT_ONCE) {
      const part = plan.addresses.slice(from, from + AT_ONCE);
      await tx.insert(user).values(part.map((it) => ({ ...it, emailVerified: true })));
    }
    return { seq: entry.seq };
  });

export const bringTable = ofWholeSite("bringTableHere", checkFirst, bringTableHere);

const COLUMNS = ["name", "address", "kind", "status", "until", "groups"];

/** All people, as a table that can be brought in again. */
export async function exportPeople(asker: string, { format }: PeopleExportQuery): Promise<Response> {
  await checkFirst(asker);
  const { access, addresses } = await inSnapshot(async (tx) => {
    const now = await readAccess(tx);
    // What somebody claims is no address by which they are known again.
    const rows = await tx.select({ id: user.id, email: user.email }).from(user).where(isNull(user.claimed));
    return { access: now, addresses: new Map(rows.map(({ id, email }) => [id, email])) };
  });
  const { index } = access;
  const lines = function* () {
    for (const person of index.document.people) {
      const groups = membershipsOf(index, { person: person.id }).filter(({ path }) => path.length === 1);
      const names = groups.map(({ group }) => groupName(index, group)).join("|");
      yield [person.name ?? person.id, addresses.get(person.id) ?? "", person.kind, person.status, person.until ?? "", names];
    }
  };
  return streamed(format, "people", COLUMNS, lines(), () => index.document.people.length);
}
