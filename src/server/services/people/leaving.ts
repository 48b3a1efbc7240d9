/** Taking a group away: the edits it comes to, with everything that names it, so that they are seen together before they are made. */
import type { GroupLeaving } from "../../../contracts/people.ts";
import { MOST_EDITS } from "../../../contracts/rules.ts";
import { editSentence } from "../../../core/access/explain/index.ts";
import { type AccessDocument, type Edit, principalKey } from "../../../core/access/model/index.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { badRequest, notThere } from "../../trouble.ts";

/** Rules that name a group: grants go, fences no longer admit it. A fence that admitted it alone stays, and admits nobody. */
function rulesWithout({ places }: AccessDocument, key: string): Edit[] {
  return places.flatMap((place): Edit[] => [
    ...place.grants.filter(({ to }) => principalKey(to) === key).map((remove): Edit => ({ kind: "grant", place: place.id, remove })),
    ...place.fences
      .filter(({ admits }) => admits.some((it) => principalKey(it) === key))
      .map((remove): Edit => {
        const put = { ...remove, admits: remove.admits.filter((it) => principalKey(it) !== key) };
        return { kind: "fence", place: place.id, remove, put };
      }),
  ]);
}

export const leaveGroup = (asker: string, id: string): Promise<GroupLeaving> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "changeGroups");
    const { document } = access.index;
    const group = document.groups.find((it) => it.id === id);
    if (!group) throw notThere();
    const { members, ...bare } = group;
    const key = principalKey({ group: id });
    const pledges = document.pledges.filter(({ who }) => "group" in who && who.group === id);
    if (pledges.length > 0)
      throw badRequest(`A pledge speaks of this group: change it first (${pledges.map((it) => it.why ?? it.id).join("; ")}).`);
    const holders = document.groups.filter((it) => it.members.some((member) => principalKey(member) === key));
    const edits: Edit[] = [
      ...rulesWithout(document, key),
      ...holders.map((it): Edit => ({ kind: "member", group: it.id, remove: { group: id } })),
      ...members.map((remove): Edit => ({ kind: "member", group: id, remove })),
      { kind: "group", group: id, remove: bare },
    ];
    if (edits.length > MOST_EDITS)
      throw badRequest(`This is ${edits.length} changes, more than ${MOST_EDITS} at once: take some of its people or grants away first.`);
    const names = namesFor(access, me);
    return { edits, sentences: edits.map((edit) => ("place" in edit ? `${names.place(edit.place)}: ` : "") + editSentence(edit, names)) };
  });
