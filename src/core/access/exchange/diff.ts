/**
 * From one access document to another in edits (access-model.md, section 11: export, edit, see the ripple, apply). What a
 * document cannot change by itself, since words or people's accounts hang on it, is an error with its path.
 */
import {
  type AccessDocument,
  actBetween,
  type DocumentError,
  distinct,
  type Edit,
  fenceKey,
  type Group,
  grantKey,
  markOf,
  type Place,
  principalKey,
  sameMark,
  sameValue,
} from "../model/index.ts";

export interface Difference {
  edits: Edit[];
  /** Differences that no edit can make. */
  errors: DocumentError[];
}

const byId = <T extends { id: string }>(list: readonly T[]): Map<string, T> => new Map(list.map((it) => [it.id, it]));

/** Items of the first list that the second lacks. */
function lacking<T>(list: readonly T[], other: readonly T[], key: (item: T) => string): T[] {
  const known = new Set(other.map(key));
  return distinct(list, key).filter((item) => !known.has(key(item)));
}

class Differ {
  readonly edits: Edit[] = [];
  readonly errors: DocumentError[] = [];

  constructor(
    private readonly before: AccessDocument,
    private readonly after: AccessDocument,
  ) {}

  private fail(path: string, message: string): void {
    this.errors.push({ path, message });
  }

  people(): void {
    const was = byId(this.before.people);
    const is = byId(this.after.people);
    for (const person of this.after.people) {
      const old = was.get(person.id);
      if (!old) this.edits.push({ kind: "person", person: person.id, put: person });
      else if (!sameValue(old, person)) this.edits.push({ kind: "person", person: person.id, remove: old, put: person });
    }
    for (const { id } of this.before.people)
      if (!is.has(id)) this.fail("$.people", `"${id}" is missing: a person is suspended, never taken out`);
  }

  /** Groups that come and members that go or come; groups that go at all are taken away last, when nothing names them. */
  groups(): void {
    const was = byId(this.before.groups);
    for (const { members: _, ...group } of this.after.groups) {
      const old = was.get(group.id);
      if (!old) this.edits.push({ kind: "group", group: group.id, put: group });
      else if (old.name !== group.name) this.edits.push({ kind: "group", group: group.id, remove: bare(old), put: group });
    }
    const is = byId(this.after.groups);
    for (const { id, members } of this.before.groups) {
      for (const member of lacking(members, is.get(id)?.members ?? [], principalKey))
        this.edits.push({ kind: "member", group: id, remove: member });
    }
    for (const { id, members } of this.after.groups) {
      for (const member of lacking(members, was.get(id)?.members ?? [], principalKey))
        this.edits.push({ kind: "member", group: id, put: member });
    }
  }

  groupsThatGo(): void {
    const is = byId(this.after.groups);
    for (const group of this.before.groups) if (!is.has(group.id)) this.edits.push({ kind: "group", group: group.id, remove: bare(group) });
  }

  places(): void {
    const was = byId(this.before.places);
    const is = byId(this.after.places);
    this.after.places.forEach((place, i) => {
      const old = was.get(place.id);
      const path = `$.places[${i}]`;
      if (!old)
        this.fail(path, `"${place.id}" is not on the site: spaces and pages are started in Tesoro, not brought in without their words`);
      else this.place(old, place, path);
    });
    for (const { id } of this.before.places)
      if (!is.has(id)) this.fail("$.places", `"${id}" is missing: pages are binned and erased in Tesoro, not left out`);
  }

  /** Moves, those that end up further up first: by then no place is asked to go into something that still stands in it. */
  moves(): void {
    const was = byId(this.before.places);
    const is = byId(this.after.places);
    const depth = (place: Place | undefined): number => (place?.parent === undefined ? 0 : 1 + depth(is.get(place.parent)));
    const moved = this.after.places.flatMap((place) => {
      const from = was.get(place.id)?.parent;
      return from !== undefined && place.parent !== undefined && from !== place.parent
        ? [{ edit: { kind: "move" as const, place: place.id, from, to: place.parent }, depth: depth(place) }]
        : [];
    });
    for (const { edit } of moved.sort((a, b) => a.depth - b.depth)) this.edits.push(edit);
  }

  private place(was: Place, is: Place, path: string): void {
    const place = was.id;
    if (was.kind !== is.kind) this.fail(`${path}.kind`, `"${place}" is a ${was.kind}`);
    if ((was.title ?? "") !== (is.title ?? "")) this.fail(`${path}.title`, `"${place}" has another title: titles are changed by writing`);
    if (was.stance !== is.stance) this.edits.push({ kind: "stance", place, from: was.stance, to: is.stance });
    for (const remove of lacking(was.grants, is.grants, grantKey)) this.edits.push({ kind: "grant", place, remove });
    for (const put of lacking(is.grants, was.grants, grantKey)) this.edits.push({ kind: "grant", place, put });
    for (const remove of lacking(was.fences, is.fences, fenceKey)) this.edits.push({ kind: "fence", place, remove });
    for (const put of lacking(is.fences, was.fences, fenceKey)) this.edits.push({ kind: "fence", place, put });
    if ((was.owner ?? null) !== (is.owner ?? null))
      this.edits.push({ kind: "owner", place, from: was.owner ?? null, to: is.owner ?? null });
    if (!sameValue(was.tags, is.tags)) this.edits.push({ kind: "tags", place, from: was.tags, to: is.tags });
    if (!sameValue(was.ceilings, is.ceilings))
      this.edits.push({ kind: "ceilings", place, from: was.ceilings ?? null, to: is.ceilings ?? null });
    if (sameMark(was, is)) return;
    if (!actBetween(was.kind, was, is)) this.fail(`${path}.state`, `no act leads from where "${place}" is, ${was.state}, to this`);
    else if (is.state === "scheduled")
      this.fail(`${path}.state`, `"${place}" is scheduled in Tesoro, by saying when it goes live, not by its state`);
    else this.edits.push({ kind: "state", place, from: markOf(was), to: markOf(is) });
  }

  siteCeilings(): void {
    const site = this.before.places.find(({ kind }) => kind === "site");
    if (site && !sameValue(this.before.ceilings, this.after.ceilings))
      this.edits.push({ kind: "ceilings", place: site.id, from: this.before.ceilings, to: this.after.ceilings });
  }

  passesAndPledges(): void {
    const passes = byId(this.before.passes);
    const kept = byId(this.after.passes);
    this.after.passes.forEach((pass, i) => {
      const old = passes.get(pass.id);
      if (!old) this.fail(`$.passes[${i}]`, `"${pass.id}" is not on the site: a pass is made in Tesoro, which shows its link once`);
      else if (old.place !== pass.place) this.fail(`$.passes[${i}].place`, "a pass stays at its place: revoke it and make another");
      else if (!sameValue(old, pass)) this.edits.push({ kind: "pass", pass: pass.id, remove: old, put: pass });
    });
    for (const { id } of this.before.passes)
      if (!kept.has(id)) this.fail("$.passes", `"${id}" is missing: a pass is revoked, never taken out`);
    const pledges = byId(this.before.pledges);
    const pledged = byId(this.after.pledges);
    for (const pledge of this.after.pledges) {
      const old = pledges.get(pledge.id);
      if (!sameValue(old, pledge)) this.edits.push({ kind: "pledge", pledge: pledge.id, ...(old ? { remove: old } : {}), put: pledge });
    }
    for (const pledge of this.before.pledges)
      if (!pledged.has(pledge.id)) this.edits.push({ kind: "pledge", pledge: pledge.id, remove: pledge });
  }
}

const bare = ({ members: _, ...group }: Group): Omit<Group, "members"> => group;

/** The edits that lead from one sound document to another, in an order in which they can be made. */
export function differenceOf(before: AccessDocument, after: AccessDocument): Difference {
  const differ = new Differ(before, after);
  differ.people();
  differ.groups();
  differ.siteCeilings();
  differ.moves();
  differ.places();
  differ.passesAndPledges();
  differ.groupsThatGo();
  return { edits: differ.edits, errors: differ.errors };
}
