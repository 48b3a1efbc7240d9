/** What links to a page, and which of its own links lead nowhere: for one asker, as far as they may know. */

import { and, asc, eq } from "drizzle-orm";
import type { Links, NowhereLink } from "../../../contracts/links.ts";
import { decide, rowOfPlace } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, type Tables } from "../../../core/access/index/index.ts";
import { READ } from "../../../core/access/model/index.ts";
import { type Access, mayNot, maySee } from "../../access/current.ts";
import { knowsPlace, mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { links } from "../../db/schema/index.ts";

/** So many pages that link here are named; their number is told anyway. */
const MOST_NAMED = 50;

/** Everybody who can read a page by some rules; those of them who cannot read another are counted by classes, never one by one. */
export class Readers {
  readonly all: readonly CompiledSubject[];
  private readonly passes: readonly CompiledSubject[];
  private readonly counted = new Map<object, Map<number, { count: number; outside: boolean }>>();

  constructor(
    private readonly access: Access,
    readonly index: AccessIndex,
    place: CompiledPlace,
  ) {
    this.all = index.subjects.filter((subject) => this.reads(subject, place));
    this.passes = this.all.filter(({ pass }) => pass !== null);
  }

  private reads(subject: CompiledSubject, place: CompiledPlace): boolean {
    return (decide(this.index, subject.number, place.number, this.access.at) & READ) !== 0;
  }

  /** How many of them are in each class of a block, pass holders aside. */
  private countIn(classOf: Tables["classOf"]) {
    const known = this.counted.get(classOf);
    if (known) return known;
    const counts = new Map<number, { count: number; outside: boolean }>();
    for (const subject of this.all) {
      if (subject.pass) continue;
      const number = classOf[subject.number] as number;
      const it = counts.get(number) ?? { count: 0, outside: false };
      counts.set(number, { count: it.count + 1, outside: it.outside || subject.class !== "members" });
    }
    this.counted.set(classOf, counts);
    return counts;
  }

  /** How many of them cannot read a place, and whether any of those is from outside. */
  stoppedAt(place: CompiledPlace): { readers: number; outside: boolean } {
    const { row, tables } = rowOfPlace(this.index, place.number, this.access.at);
    const stopped = [...this.countIn(tables.classOf)].filter(([number]) => ((row[number] as number) & READ) === 0).map(([, it]) => it);
    const passes = this.passes.filter((it) => !this.reads(it, place)).length;
    // Whoever owns a draft reads it, whatever their class does.
    const owner = this.index.subjects[this.index.ownerGate[place.number] ?? -1];
    const exempt = owner && this.reads(owner, place) && ((row[tables.classOf[owner.number] as number] as number) & READ) === 0;
    const own = exempt && this.all.includes(owner) ? 1 : 0;
    return {
      readers: stopped.reduce((sum, { count }) => sum + count, passes) - own,
      outside: passes > 0 || stopped.some((it) => it.outside),
    };
  }
}

/** Of some pages, those that some of the readers cannot follow a link to. What one may not know of and what is not there are told alike. */
export function leadNowhere(access: Access, me: CompiledSubject, readers: Readers, targets: readonly string[]): NowhereLink[] {
  const names = namesFor(access, me);
  const everybody = { readers: readers.all.length, outside: readers.all.some((it) => it.class !== "members") };
  return targets.flatMap((id) => {
    const target = knowsPlace(access, me, id) ? placeOf(readers.index, id) : undefined;
    const stopped = target ? readers.stoppedAt(target) : everybody;
    const title = target ? names.place(id) : "a page that is not there, or not open to you";
    return stopped.readers === 0 ? [] : [{ title, ...stopped }];
  });
}

/** Pages whose live version links here, or whose working version does and is open to the asker. */
async function linkedFrom(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Omit<Links, "nowhere">> {
  const rows = await tx
    .selectDistinct({ id: links.placeId, live: links.live })
    .from(links)
    .where(eq(links.targetId, place.place.id))
    .orderBy(asc(links.placeId));
  const known = new Map<string, { id: string; title: string; working: boolean }>();
  const hidden = new Set<string>();
  for (const { id, live } of rows) {
    const from = placeOf(access.index, id);
    if (!from || from === place) continue;
    const reaches = live ? from.place.state === "live" : mayNot(access, me, "openWorking", from) === null;
    if (live && reaches && !maySee(access, me, from)) hidden.add(id);
    if (!reaches || !maySee(access, me, from)) continue;
    known.set(id, { id, title: from.place.title ?? "", working: !live && (known.get(id)?.working ?? true) });
  }
  const from = [...known.values()].sort((a, b) => a.title.localeCompare(b.title, "en"));
  // How much there is that one cannot see is for those who answer for the page.
  return { from: from.slice(0, MOST_NAMED), total: from.length, hidden: mayKnowOthers(access, me, place) ? hidden.size : 0 };
}

/** The links of a page both ways; null for what has no text of its own. */
export async function linksHere(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Links | null> {
  const { kind, state } = place.place;
  if (kind !== "page" && kind !== "bulletin") return null;
  const found = await linkedFrom(tx, access, me, place);
  if (state !== "live" || mayNot(access, me, "seePublishSheet", place) !== null) return { ...found, nowhere: [] };
  const own = await tx
    .selectDistinct({ id: links.targetId })
    .from(links)
    .where(and(eq(links.placeId, place.place.id), eq(links.live, true)))
    .orderBy(asc(links.targetId));
  const targets = own.map(({ id }) => id);
  const nowhere = targets.length === 0 ? [] : leadNowhere(access, me, new Readers(access, access.index, place), targets);
  return { ...found, nowhere };
}
