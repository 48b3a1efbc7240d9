/** One person: in which groups and through which, what they own and keep, what they can do where. */
import type { PersonSlip } from "../../../contracts/people.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { membershipsOf } from "../../../core/access/groups/index.ts";
import { type CompiledSubject, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, cellOf, isKeeper, mayNot, maySee, readAccess, subjectFor } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { draftsOf } from "../workbench/bench.ts";
import { comingOf } from "./coming.ts";
import { groupName } from "./names.ts";
import { sameAddressOf } from "./sameAddress.ts";
import { levelsIn, overseersOf, pagesOwnedBy, stateOf } from "./told.ts";

const MOST_PAGES = 50;
const MOST_SPACES = 60;

/** Pages they own that the asker may see; how many others there are is for site keepers. */
function ownedBy(access: Access, me: CompiledSubject, id: string): PersonSlip["owns"] {
  const all = pagesOwnedBy(access.index, id);
  const seen = all.filter((place) => maySee(access, me, place));
  const count = isKeeper(access, me) ? all.length : seen.length;
  return {
    count,
    hidden: count - seen.length,
    pages: seen.slice(0, MOST_PAGES).map(({ place }) => ({ id: place.id, name: place.title ?? "" })),
  };
}

/** Spaces they keep where the asker may know of rules; whoever keeps the site keeps none of them by itself. */
function keptBy(access: Access, me: CompiledSubject, who: CompiledSubject): PersonSlip["keeps"] {
  if (isKeeper(access, who)) return [];
  const ofSite = overseersOf(access, siteOf(access.index), OVERSEES);
  return access.index.blocks.flatMap(({ space }) => {
    const place = access.index.places[space];
    if (place?.place.kind !== "space" || !(cellOf(access, who, place) & OVERSEES) || !mayKnowOthers(access, me, place)) return [];
    return [{ id: place.place.id, name: place.place.title ?? "", alone: overseersOf(access, place, OVERSEES) - ofSite === 1 }];
  });
}

function reachOf(access: Access, me: CompiledSubject, who: CompiledSubject): Pick<PersonSlip, "reach" | "moreReach"> {
  const found = access.index.blocks.flatMap((block): PersonSlip["reach"] => {
    const place = access.index.places[block.space];
    if (place?.place.kind !== "space" || !maySee(access, me, place)) return [];
    const levels = levelsIn(access, block, who, me);
    const some = Object.entries(levels).some(([level, count]) => level !== "0" && count > 0);
    return some ? [{ space: { id: place.place.id, name: place.place.title ?? "" }, levels }] : [];
  });
  const weight = ({ levels }: PersonSlip["reach"][number]) =>
    Object.entries(levels).reduce((sum, [level, count]) => sum + Number(level) * count, 0);
  return { reach: found.sort((a, b) => weight(b) - weight(a)).slice(0, MOST_SPACES), moreReach: Math.max(0, found.length - MOST_SPACES) };
}

export const readPerson = (asker: string, id: string): Promise<PersonSlip> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const { index, at } = access;
    const who = subjectOf(index, { person: id });
    if (!who?.person) throw notThere();
    const { person } = who;
    const tells = isKeeper(access, me) || who === me;
    const coming = await comingOf(tx, access, tells ? [id] : []);
    return {
      id,
      name: person.name ?? id,
      kind: person.kind,
      state: tells ? stateOf(who, at) : null,
      until: tells ? (person.until ?? null) : null,
      signedIn: coming.signedIn(id),
      hasAccount: tells ? coming.hasAccount(id) : null,
      by: coming.by(id),
      sameAddress: isKeeper(access, me) ? await sameAddressOf(tx, access, id) : [],
      whole: mayNot(access, me, "changePeople") === null ? person : null,
      groups: membershipsOf(index, { person: id }).map(({ group, path }) => ({
        id: group,
        name: groupName(index, group),
        through: path.slice(0, -1).map((step) => groupName(index, step)),
      })),
      owns: ownedBy(access, me, id),
      drafts: isKeeper(access, me) ? await draftsOf(tx, id) : null,
      keeps: keptBy(access, me, who),
      ...reachOf(access, me, who),
    };
  });
