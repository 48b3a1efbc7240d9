/** What somebody may do to people and groups without keeping the site: guests they brought in, groups they manage. */
import { and, eq, inArray } from "drizzle-orm";
import type { Guests } from "../../../core/access/authority/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { groupManagers, invitations } from "../../db/schema/index.ts";
import { readHouseRules } from "../house/houseRules.ts";

export interface Mandates {
  guests?: Guests;
  manages?: ReadonlyMap<string, { guests: boolean }>;
}

/** The mandates of a maker that bear on these edits; nothing is asked where none can. */
export async function mandatesOf(tx: Pick<Tx, "select">, maker: string | null, edits: readonly Edit[]): Promise<Mandates> {
  const people = [...new Set(edits.flatMap((edit) => (edit.kind === "person" ? [edit.person] : [])))];
  const groups = [...new Set(edits.flatMap((edit) => (edit.kind === "member" ? [edit.group] : [])))];
  const mandates: Mandates = {};
  if (maker === null) return mandates;
  if (people.length > 0) {
    const rows = await tx
      .select({ person: invitations.personId })
      .from(invitations)
      .where(and(eq(invitations.by, maker), inArray(invitations.personId, people)));
    const { guestsBySpaceKeepers } = await readHouseRules(tx);
    mandates.guests = { allowed: guestsBySpaceKeepers, mine: new Set(rows.map(({ person }) => person)) };
  }
  if (groups.length > 0) {
    const rows = await tx
      .select({ group: groupManagers.groupId, guests: groupManagers.guests })
      .from(groupManagers)
      .where(and(eq(groupManagers.personId, maker), inArray(groupManagers.groupId, groups)));
    mandates.manages = new Map(rows.map(({ group, guests }) => [group, { guests }]));
  }
  return mandates;
}
