/** What an invitation gave to whoever it asked in, and what others gave them meanwhile: each belongs to who gave it. */
import { eq } from "drizzle-orm";
import {
  type AccessDocument,
  type Edit,
  type Grant,
  grantKey,
  type Person,
  principalKey,
  type Seq,
  sameValue,
} from "../../../core/access/model/index.ts";
import { grantsNaming } from "../../../core/access/replacing/index.ts";
import type { Access } from "../../access/current.ts";
import type { Tx } from "../../db/client.ts";
import { type invitations, ledger } from "../../db/schema/index.ts";

/** The entry of somebody who was here before they were asked in: that gave them nothing, and its end takes nothing from them. */
export const HERE_BEFORE = 0 as Seq;

/** Grants and groups of somebody, as they stand. */
export interface Holding {
  grants: { place: string; grant: Grant }[];
  groups: string[];
}

/** All that names somebody in grants and groups. */
export function holdingOf(document: AccessDocument, id: string): Holding {
  const key = principalKey({ person: id });
  return {
    grants: grantsNaming(document, { person: id }),
    groups: document.groups.filter(({ members }) => members.some((it) => principalKey(it) === key)).map((it) => it.id),
  };
}

/** Of that, what an invitation gave: as it was given, but for an end that was moved. */
export async function givenBy(tx: Tx, { index }: Access, { personId, seq }: typeof invitations.$inferSelect): Promise<Holding> {
  const [entry] = await tx
    .select({ edits: ledger.edits })
    .from(ledger)
    .where(eq(ledger.seq, seq as Seq));
  const edits = entry?.edits ?? [];
  const { grants, groups } = holdingOf(index.document, personId);
  const same = (a: Grant, b: Grant) => sameValue({ ...a, until: null }, { ...b, until: null });
  return {
    grants: grants.filter(({ place, grant }) =>
      edits.some((edit) => edit.kind === "grant" && edit.place === place && edit.put !== undefined && same(edit.put, grant)),
    ),
    groups: groups.filter((group) => edits.some((edit) => edit.kind === "member" && edit.group === group && edit.put !== undefined)),
  };
}

/** Takes these away from somebody who never came; where nothing else is theirs, they are suspended. */
export function takingOut({ index }: Access, person: Person, { grants, groups }: Holding): Edit[] {
  const all = holdingOf(index.document, person.id);
  const keepsMore = all.grants.length > grants.length || all.groups.length > groups.length;
  return [
    ...grants.map(({ place, grant: remove }): Edit => ({ kind: "grant", place, remove })),
    ...groups.map((group): Edit => ({ kind: "member", group, remove: { person: person.id } })),
    ...(person.status === "suspended" || keepsMore
      ? []
      : [{ kind: "person", person: person.id, remove: person, put: { ...person, status: "suspended" } } satisfies Edit]),
  ];
}

/** The same things for somebody else instead; of what they have already nothing is given twice. */
export function goingOver({ index }: Access, to: string, { grants, groups }: Holding, from: string): Edit[] {
  const has = holdingOf(index.document, to);
  const key = (place: string, grant: Grant) => `${place} ${grantKey(grant)}`;
  const there = new Set(has.grants.map(({ place, grant }) => key(place, grant)));
  return [
    ...grants.map(({ place, grant: remove }): Edit => {
      const put = { ...remove, to: { person: to } };
      return there.has(key(place, put)) ? { kind: "grant", place, remove } : { kind: "grant", place, remove, put };
    }),
    ...groups.flatMap((group): Edit[] => [
      { kind: "member", group, remove: { person: from } },
      ...(has.groups.includes(group) ? [] : [{ kind: "member" as const, group, put: { person: to } }]),
    ]),
  ];
}
