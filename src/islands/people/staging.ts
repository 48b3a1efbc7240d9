/** Changes of groups, as they go into the tray. */
import type { Named } from "../../contracts/people.ts";
import { type Edit, type GroupMember, principalKey } from "../../core/access/model/index.ts";
import { tray } from "../change/store.ts";
import { say } from "../shared/say.ts";

/** Somebody, or a group, is put into a group or taken out of it. */
export function stageMember(group: Named, swap: { put: GroupMember } | { remove: GroupMember }, name: string): void {
  const member = "put" in swap ? swap.put : swap.remove;
  const words = `${name} ${"put" in swap ? "put in" : "taken out"}`;
  const edit: Edit = { kind: "member", group: group.id, ...swap };
  tray.stage({ id: `group:${group.id}`, title: group.name }, `member ${principalKey(member)}`, edit, words);
  say(`In the tray: ${group.name}, ${words}.`);
}

/** A new group, with whoever is put into it at once. */
export function stageGroup(name: string, members: readonly { member: GroupMember; name: string }[]): string {
  const id = `g-${crypto.randomUUID().slice(0, 13)}`;
  const edits: Edit[] = [
    { kind: "group", group: id, put: { id, name } },
    ...members.map(({ member }): Edit => ({ kind: "member", group: id, put: member })),
  ];
  const sentences = ["group made", ...members.map((it) => `${it.name} put in`)];
  tray.stageAll({ id: `group:${id}`, title: name }, "group", edits, sentences);
  say(`In the tray: the group ${name}, with ${members.length} in it.`);
  return id;
}
