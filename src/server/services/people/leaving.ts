/** Taking a group away: the edits it comes to, with everything that names it, so that they are seen together before they are made. */
import type { GroupLeaving } from "../../../contracts/people.ts";
import { MOST_EDITS } from "../../../contracts/rules.ts";
import { withSentences } from "../../../core/access/explain/index.ts";
import { type AccessDocument, distinct, type Edit, fenceKey, principalKey } from "../../../core/access/model/index.ts";
import { grantsNaming } from "../../../core/access/replacing/index.ts";
import { need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { managersOf } from "./managers.ts";

/** Rules that name a group: grants go, fences no longer admit it. A fence that admitted it alone stays, and admits nobody. */
function rulesWithout(document: AccessDocument, group: { group: string }): Edit[] {
  const key = principalKey(group);
  return [
    ...grantsNaming(document, group).map(({ place, grant: remove }): Edit => ({ kind: "grant", place, remove })),
    ...document.places.flatMap((place) =>
      distinct(place.fences, fenceKey)
        .filter(({ admits }) => admits.some((it) => principalKey(it) === key))
        .map((remove): Edit => {
          const put = { ...remove, admits: remove.admits.filter((it) => principalKey(it) !== key) };
          return { kind: "fence", place: place.id, remove, put };
        }),
    ),
  ];
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
    const managers = (await managersOf(tx, [id])).get(id) ?? [];
    const edits: Edit[] = [
      ...(managers.length > 0 ? [{ kind: "managers", group: id, from: managers, to: [] } satisfies Edit] : []),
      ...rulesWithout(document, { group: id }),
      ...holders.map((it): Edit => ({ kind: "member", group: it.id, remove: { group: id } })),
      ...members.map((remove): Edit => ({ kind: "member", group: id, remove })),
      { kind: "group", group: id, remove: bare },
    ];
    if (edits.length > MOST_EDITS)
      throw badRequest(`This is ${edits.length} changes, more than ${MOST_EDITS} at once: take some of its people or grants away first.`);
    return withSentences(edits, namesFor(access, me));
  });
