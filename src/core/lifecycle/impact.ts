/**
 * What an act breaks or carries along (lifecycle.md, "Impact, before it happens"), as data. Every line of that list that
 * Tesoro has the things for is here; who may be told which part of it is for the server to say.
 */
import { cellsInBlock, GUEST, PUBLIC_CLASS, rowOfPlace, tablesAt } from "../access/decide/index.ts";
import { type AccessIndex, type Block, type CompiledSubject, placeOf, subjectOf } from "../access/index/index.ts";
import { type Edit, type Instant, type PlaceNumber, READ, subjectOfKey } from "../access/model/index.ts";
import type { Ripple } from "../access/ripple/index.ts";

/** A link of the live version of one page to another, by ids. */
export interface PageLink {
  from: string;
  to: string;
}

/** What lies beside the document and ends or counts with an act. */
export interface ImpactFacts {
  /** Links to the places that the act changes, from pages that it leaves as they are. */
  links: readonly PageLink[];
  /** Schedules of the places that the act changes. */
  schedules: readonly { place: string; what: "live" | "archive" }[];
  /** Routines that name a place which goes, by its id. */
  routines: readonly string[];
  /** Views in the last 30 days of the places that go. */
  views30: number;
}

export interface Impact {
  /** Links that would lead nowhere for some who can follow them now; `outside`: for some from outside. */
  links: (PageLink & { outside: boolean })[];
  /** Spaces that get another landing page, or none. */
  landings: { space: string; from: string | null; to: string | null }[];
  /** Ids of passes that stop opening anything. */
  passes: string[];
  /** Ids of guests to whom nothing is left to read but what the public reads. */
  guests: string[];
  /** Ids of pledges that name a place which the act changes. */
  pledges: string[];
  schedules: { place: string; what: "live" | "archive" }[];
  /** Ids of routines that name a place which goes. */
  routines: string[];
  views30: number;
}

type Cells = ReturnType<typeof rowOfPlace>;

/** For readers of one place who can read another now and then: whether some cannot then, and whether some of those are from outside. */
class Followers {
  private readonly known = new Map<Cells["row"], Map<Cells["row"], Map<Cells["row"] | null, { broken: boolean; outside: boolean }>>>();

  private readonly outside: readonly CompiledSubject[];
  private readonly members: readonly CompiledSubject[];

  constructor(
    private readonly before: AccessIndex,
    private readonly after: AccessIndex,
    private readonly at: Instant,
  ) {
    this.outside = before.subjects.filter((subject) => !subject.pass && subject.class !== "members");
    this.members = before.subjects.filter((subject) => !subject.pass && subject.class === "members");
  }

  compare(from: PlaceNumber, to: PlaceNumber, then: PlaceNumber | undefined) {
    const { before, after, at } = this;
    const [source, target] = [rowOfPlace(before, from, at), rowOfPlace(before, to, at)];
    const later = then === undefined ? null : rowOfPlace(after, then, at);
    const bySource = this.known.get(source.row) ?? new Map();
    const byTarget = bySource.get(target.row) ?? new Map();
    this.known.set(source.row, bySource);
    bySource.set(target.row, byTarget);
    const known = byTarget.get(later?.row ?? null);
    if (known) return known;
    const found = this.work(source, target, later);
    byTarget.set(later?.row ?? null, found);
    return found;
  }

  private work(source: Cells, target: Cells, later: Cells | null) {
    const reads = ({ row, tables }: Cells, number: number) => ((row[tables.classOf[number] as number] as number) & READ) !== 0;
    const loses = ({ number }: CompiledSubject) => reads(source, number) && reads(target, number) && !(later && reads(later, number));
    // From outside first: most often somebody is found soon, and nobody else is looked at.
    if (this.outside.some(loses)) return { broken: true, outside: true };
    return { broken: this.members.some(loses), outside: false };
  }
}

/** Of some links, those that somebody who can follow them now cannot follow then. */
export function brokenLinks(before: AccessIndex, after: AccessIndex, at: Instant, links: readonly PageLink[]): Impact["links"] {
  const followers = new Followers(before, after, at);
  return links.flatMap((link) => {
    const [from, to] = [placeOf(before, link.from), placeOf(before, link.to)];
    if (!from || !to) return [];
    const { broken, outside } = followers.compare(from.number, to.number, placeOf(after, link.to)?.number);
    return broken ? [{ ...link, outside }] : [];
  });
}

/** Guests who lose reading somewhere and can read nothing then but what the public reads. */
function guestsLeftOut(after: AccessIndex, at: Instant, ripple: Ripple): string[] {
  const losing = new Set(ripple.entries.filter((it) => it.class === "guests" && it.losses.includes("read")).flatMap((it) => it.subjects));
  const everybody = subjectOf(after, { public: true });
  if (!everybody) return [];
  // Whoever is in one class of a block reads the same there.
  const known = after.blocks.map(() => new Map<number, boolean>());
  const open = new Map<Block, number[]>();
  const readsIn = (block: Block, number: number, guest: CompiledSubject): boolean => {
    const ofClass = tablesAt(after, block, at).classOf[guest.number] as number;
    const found = known[number]?.get(ofClass);
    if (found !== undefined) return found;
    const forAll = open.get(block) ?? [...cellsInBlock(after, block, everybody.number, at)].map(({ cell }) => cell);
    open.set(block, forAll);
    let reads = false;
    let row = 0;
    for (const { cell } of cellsInBlock(after, block, guest.number, at)) {
      reads = (cell & READ & ~(forAll[row++] as number)) !== 0;
      if (reads) break;
    }
    known[number]?.set(ofClass, reads);
    return reads;
  };
  return [...losing].flatMap((key) => {
    const subject = subjectOfKey(key);
    const guest = subjectOf(after, subject);
    if (!("person" in subject) || !guest) return [];
    return after.blocks.some((block, number) => readsIn(block, number, guest)) ? [] : [subject.person];
  });
}

/** What edits that lead from one index to another would break, at an instant (milliseconds since the epoch). */
export function impactOf(
  { before, after, at, edits, ripple }: { before: AccessIndex; after: AccessIndex; at: Instant; edits: readonly Edit[]; ripple: Ripple },
  facts: ImpactFacts,
): Impact {
  const touched = new Set(
    edits.flatMap((edit) => (edit.kind === "state" || edit.kind === "move" || edit.kind === "erase" ? [edit.place] : [])),
  );
  return {
    links: brokenLinks(before, after, at, facts.links),
    landings: edits.flatMap((edit) => (edit.kind === "landing" ? [{ space: edit.place, from: edit.from, to: edit.to }] : [])),
    passes: ripple.passes.stop,
    guests: guestsLeftOut(after, at, ripple),
    pledges: before.document.pledges
      .filter(({ where: { subtree = "", space = "" } }) => touched.has(subtree) || touched.has(space))
      .map(({ id }) => id),
    schedules: [...facts.schedules],
    routines: [...facts.routines],
    views30: facts.views30,
  };
}

/** Who outside could read a place: the public, and how many guests. */
export function readersOutside(index: AccessIndex, place: PlaceNumber, at: Instant): { public: boolean; guests: number } {
  const { row, tables } = rowOfPlace(index, place, at);
  const { counts, kinds } = tables;
  let guests = 0;
  row.forEach((cell, number) => {
    if (kinds[number] === GUEST && cell & READ) guests += counts[number] as number;
  });
  return { public: ((row[PUBLIC_CLASS] as number) & READ) !== 0, guests };
}
