/** A guest turned member, or back: what a guest may not hold by name goes in the same change. */
import type { Replacing } from "../../../contracts/leaving.ts";
import { withSentences } from "../../../core/access/explain/index.ts";
import { placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, type Edit, GUEST_LIMIT, grantKey, maskOf, type Person } from "../../../core/access/model/index.ts";
import { grantsNaming } from "../../../core/access/replacing/index.ts";
import { type Access, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";

/** Grants to them by name that hold what a guest may not, cut down to what one may. */
function cutDown({ index }: Access, id: string): Edit[] {
  const put = new Set<string>();
  return grantsNaming(index.document, { person: id })
    .filter(({ grant }) => maskOf(grant.abilities) & ~GUEST_LIMIT)
    .map(({ place, grant: remove }): Edit => {
      const left = { ...remove, abilities: abilitiesIn(maskOf(remove.abilities) & GUEST_LIMIT) };
      // What stands there already, or was left of another grant, is not put a second time.
      const there = placeOf(index, place)?.place.grants.some((it) => grantKey(it) === grantKey(left)) ?? false;
      const keeps = left.abilities.length > 0 && !there && !put.has(`${place} ${grantKey(left)}`);
      put.add(`${place} ${grantKey(left)}`);
      return { kind: "grant", place, remove, ...(keeps ? { put: left } : {}) };
    });
}

export const readTurning = (asker: string, id: string): Promise<Replacing> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    need(access, me, "changePeople");
    const person = subjectOf(access.index, { person: id })?.person;
    if (!person) throw notThere();
    const put: Person = { ...person, kind: person.kind === "guest" ? "member" : "guest" };
    const edits: Edit[] = [...(put.kind === "guest" ? cutDown(access, id) : []), { kind: "person", person: id, remove: person, put }];
    return withSentences(edits, namesFor(access, me));
  });
