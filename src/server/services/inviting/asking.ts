/** Asking people in (access-model.md, 6a, "bring in a guest"): who they become, what they are granted, what they would see. */
import { and, count, eq, inArray, isNull } from "drizzle-orm";
import type { AskedBody, InviteBody } from "../../../contracts/inviting.ts";
import { siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, type Edit, instantOf, setOfLevel } from "../../../core/access/model/index.ts";
import { type Access, isKeeper, need, subjectFor } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { invitations, user } from "../../db/schema/index.ts";
import { idOf } from "../../ids.ts";
import { badRequest } from "../../trouble.ts";

/** An address as it is kept and compared. */
export const addressOf = (email: string): string => email.normalize("NFC").trim().toLowerCase();

/**
 * Ids of those who are asked in: the same each time the same person asks in the same address, so that what was looked at is
 * what is sent; another one each time it is really sent.
 */
async function idsFor(tx: Tx, maker: string, emails: readonly string[]): Promise<string[]> {
  const rows = await tx
    .select({ email: invitations.email, times: count() })
    .from(invitations)
    .where(and(eq(invitations.by, maker), inArray(invitations.email, [...emails])))
    .groupBy(invitations.email);
  const times = new Map(rows.map((row) => [row.email, row.times]));
  return emails.map((email) => idOf("asked", maker, email, times.get(email) ?? 0));
}

export interface Asked extends AskedBody {
  id: string;
}

/** Those of an order, their addresses as they are kept, with their ids. */
export async function askedIn(tx: Tx, maker: string, order: InviteBody): Promise<Asked[]> {
  const people = order.people.map(({ name, email }) => ({ name: name.trim(), email: addressOf(email) }));
  const emails = people.map(({ email }) => email);
  const twice = emails.filter((email, i) => emails.indexOf(email) < i);
  if (twice.length > 0) throw badRequest(`These addresses stand in the list more than once: ${[...new Set(twice)].join(", ")}.`);
  const ids = await idsFor(tx, maker, emails);
  return people.map((it, i) => ({ ...it, id: ids[i] as string }));
}

/** Refuses what no invitation is, whoever sends it. */
export function checkOrder(access: Access, maker: string, order: InviteBody): void {
  const me = subjectFor(access, maker);
  const { kind, places, groups, until } = order;
  if (kind === "member" || groups.length > 0) need(access, me, "changePeople");
  if (places.includes(siteOf(access.index).place.id)) throw badRequest("Nobody is asked in to the whole site: name the places.");
  if (kind === "guest" && until === null) throw badRequest("A guest has an end: say until when.");
  if (until !== null && !(instantOf(until) > access.at)) throw badRequest("The end must lie ahead.");
  // Without keeping the site one asks in to places, and nothing else.
  if (places.length === 0 && !isKeeper(access, me)) throw badRequest("Name at least one place that they are to see.");
}

/** The edits that let people in: each with what they are granted and the groups they are put into. */
export const lettingIn = (order: InviteBody, people: readonly Asked[]): Edit[] => {
  const end = order.until === null ? {} : { until: order.until };
  return people.flatMap(({ id, name }): Edit[] => [
    { kind: "person", person: id, put: { id, name, kind: order.kind, status: "active", ...end } },
    ...order.places.map(
      (place): Edit => ({ kind: "grant", place, put: { to: { person: id }, abilities: abilitiesIn(setOfLevel(order.level)), ...end } }),
    ),
    ...order.groups.map((group): Edit => ({ kind: "member", group, put: { person: id } })),
  ]);
};

/** Which addresses are somebody's already, or were asked in already: for site keepers, who alone may know. */
export async function takenAddresses(
  tx: Tx,
  access: Access,
  maker: string,
  people: readonly Asked[],
): Promise<{ email: string; says: string }[]> {
  if (!isKeeper(access, subjectFor(access, maker))) return [];
  const emails = people.map(({ email }) => email);
  const rows = await tx.select({ id: user.id, email: user.email }).from(user).where(inArray(user.email, emails));
  const waiting = await tx
    .select({ id: invitations.personId, email: invitations.email })
    .from(invitations)
    .where(and(inArray(invitations.email, emails), isNull(invitations.outcome)));
  const who = (id: string) => subjectOf(access.index, { person: id })?.person;
  return [
    ...rows.map(({ id, email }) => {
      const it = who(id);
      const suspended = it?.status === "suspended" ? " (suspended: let them back in instead)" : "";
      return { email, says: `${email} is the address of ${it?.name ?? "somebody"}, ${it?.kind ?? "member"}${suspended}.` };
    }),
    ...waiting.map(({ id, email }) => ({
      email,
      says: `${email} was asked in already, as ${who(id)?.name ?? "somebody"}: send that again.`,
    })),
  ];
}
