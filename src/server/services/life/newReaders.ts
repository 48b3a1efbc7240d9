/** Of what comes back out of the archive or the bin: who will read it then and could not when it left (lifecycle.md, "Restoring"). */
import type { ActSheet } from "../../../contracts/life.ts";
import { decide } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Instant, READ, subjectOfKey } from "../../../core/access/model/index.ts";
import { mayKnowOthers, namesFor, subjectName } from "../../access/known.ts";
import { readAccessAsOf } from "../../access/past.ts";
import type { Tx } from "../../db/client.ts";
import type { Planned } from "../change/plan.ts";

/** So many pages are looked at one by one; of more, the ripple tells. */
const MOST = 20;
const MOST_NAMED = 100;

const readers = (index: AccessIndex, id: string, at: Instant): CompiledSubject[] => {
  const place = placeOf(index, id);
  return place ? index.subjects.filter((subject) => (decide(index, subject.number, place.number, at) & READ) !== 0) : [];
};

export async function newReaders(tx: Tx, planned: Planned): Promise<ActSheet["newReaders"]> {
  const { access, me, after, acts } = planned;
  const act = acts?.acts[0];
  if (!act || !acts || (act.act !== "restore" && act.act !== "unarchive") || act.places.length > MOST) return null;
  const names = namesFor(access, me);
  const found = new Map<string, CompiledSubject>();
  const past = new Map<number, AccessIndex>();
  for (const id of act.places) {
    const left = acts.facts.left.get(id);
    if (!left) continue;
    // Just before it left: what came of that very change is not what was.
    const before = (left.at - 1) as Instant;
    const then = past.get(before) ?? (await readAccessAsOf(tx, new Date(before).toISOString()).catch(() => null))?.index;
    if (!then) continue;
    past.set(before, then);
    for (const subject of readers(after, id, access.at)) {
      const old = subjectOf(then, subjectOfKey(subject.key));
      const place = placeOf(then, id);
      if (!old || !place || !(decide(then, old.number, place.number, before) & READ)) found.set(subject.key, subject);
    }
  }
  const outside = [...found.values()].filter((it) => it.class !== "members").length;
  const may = act.places.every((id) => {
    const place = placeOf(access.index, id);
    return place !== undefined && mayKnowOthers(access, me, place);
  });
  if (found.size === 0) return { sentence: "Nobody will read it who could not when it left.", names: [] };
  const who = found.size === 1 ? "One reads it then who" : `${found.size} read it then who`;
  return {
    sentence: `${who} could not when it left${outside > 0 ? `, ${outside} of them from outside` : ""}.`,
    names: may ? [...found.keys()].slice(0, MOST_NAMED).map((key) => subjectName(access, names, key)) : [],
  };
}
