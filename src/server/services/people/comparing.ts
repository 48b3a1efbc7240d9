/** Two groups compared: who is in one and not in the other, and what only one is granted. */
import type { Apart, Compared } from "../../../contracts/people.ts";
import { grantSentence } from "../../../core/access/explain/index.ts";
import { type CompiledSubject, peopleOf } from "../../../core/access/index/index.ts";
import { type Grant, grantKey, principalKey } from "../../../core/access/model/index.ts";
import { type Access, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";

const MOST = 100;

/** Who is in a group now, directly or through others. */
function peopleIn({ index, at }: Access, id: string): CompiledSubject[] {
  if (!index.document.groups.some((group) => group.id === id)) throw notThere();
  return peopleOf(index, { group: id }, at);
}

/** A grant as the other group would have it: the same key where both have the same. */
const asOther = (grant: Grant, other: string): string => grantKey({ ...grant, to: { group: other } });

function grantedAlone(access: Access, me: CompiledSubject, id: string, other: string): Apart["granted"] {
  const names = namesFor(access, me);
  const key = principalKey({ group: id });
  const found: Apart["granted"] = [];
  for (const place of access.index.places) {
    const own = place.place.grants.filter(({ to }) => principalKey(to) === key);
    if (own.length === 0 || !mayKnowOthers(access, me, place)) continue;
    const there = new Set(place.place.grants.map(grantKey));
    const named = { id: place.place.id, name: place.place.kind === "site" ? "The site" : (place.place.title ?? "") };
    for (const grant of own) if (!there.has(asOther(grant, other))) found.push({ place: named, sentence: grantSentence(grant, names) });
  }
  return found.slice(0, MOST);
}

export const compareGroups = (asker: string, id: string, other: string): Promise<Compared> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const [here, there] = [peopleIn(access, id), peopleIn(access, other)];
    const [inHere, inThere] = [new Set(here), new Set(there)];
    const apart = (list: readonly CompiledSubject[], without: ReadonlySet<CompiledSubject>, granted: Apart["granted"]): Apart => {
      const alone = list
        .filter((it) => !without.has(it))
        .map(({ person }) => ({ id: person?.id ?? "", name: person?.name ?? person?.id ?? "" }));
      return { count: alone.length, people: alone.sort((a, b) => a.name.localeCompare(b.name, "en")).slice(0, MOST), granted };
    };
    return {
      here: apart(here, inThere, grantedAlone(access, me, id, other)),
      there: apart(there, inHere, grantedAlone(access, me, other, id)),
      both: here.filter((it) => inThere.has(it)).length,
    };
  });
