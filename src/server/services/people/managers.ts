/** Who manages the members of groups without keeping the site: named by site keepers, shown wherever the group is granted something. */
import { asc, eq, inArray } from "drizzle-orm";
import { type AccessIndex, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, type Manager, sameValue } from "../../../core/access/model/index.ts";
import type { Tx } from "../../db/client.ts";
import { groupManagers } from "../../db/schema/index.ts";

/** The managers of each of these groups that has any. */
export async function managersOf(tx: Pick<Tx, "select">, groups: readonly string[]): Promise<Map<string, Manager[]>> {
  const found = new Map<string, Manager[]>();
  if (groups.length === 0) return found;
  const rows = await tx
    .select()
    .from(groupManagers)
    .where(inArray(groupManagers.groupId, [...new Set(groups)]))
    .orderBy(asc(groupManagers.personId));
  for (const { groupId, personId, guests } of rows) found.set(groupId, [...(found.get(groupId) ?? []), { person: personId, guests }]);
  return found;
}

const managersIn = (edits: readonly Edit[]) => edits.filter((edit) => edit.kind === "managers");
/** In one order: the database has another one for capital letters. */
const byPerson = (list: readonly Manager[]): Manager[] => [...list].sort((a, b) => (a.person < b.person ? -1 : 1));

/** Managers that are not who edits say they are, groups that are gone, and managers who are no members. */
export async function managersConflicts(tx: Tx, index: AccessIndex, edits: readonly Edit[]): Promise<EditConflict[]> {
  const all = managersIn(edits);
  if (all.length === 0) return [];
  const now = await managersOf(
    tx,
    all.map(({ group }) => group),
  );
  return all.flatMap((edit): EditConflict[] => {
    const made = edits.some((it) => it.kind === "group" && it.group === edit.group && it.put);
    if (!made && !index.document.groups.some(({ id }) => id === edit.group)) return [{ edit, message: "the group is gone" }];
    if (!sameValue(byPerson(edit.from), byPerson(now.get(edit.group) ?? [])))
      return [{ edit, message: "its managers were changed meanwhile" }];
    const isMember = ({ person }: Manager) => subjectOf(index, { person })?.class === "members";
    return edit.to.every(isMember) ? [] : [{ edit, message: "only members manage a group", unlawful: true }];
  });
}

/** Writes managers as edits give them; a group that is taken away has none. */
export async function writeManagers(tx: Tx, edits: readonly Edit[]): Promise<void> {
  for (const { group, to } of managersIn(edits)) {
    await tx.delete(groupManagers).where(eq(groupManagers.groupId, group));
    if (to.length > 0)
      await tx.insert(groupManagers).values(to.map(({ person, guests }) => ({ groupId: group, personId: person, guests })));
  }
  const gone = edits.flatMap((edit) => (edit.kind === "group" && edit.remove && !edit.put ? [edit.group] : []));
  if (gone.length > 0) await tx.delete(groupManagers).where(inArray(groupManagers.groupId, gone));
}
