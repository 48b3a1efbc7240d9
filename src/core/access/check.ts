/** What must hold between the parts of an access document that are well-formed one by one (access-model.md, section 11). */
import type { AccessDocument, DocumentError, GroupMember, Place, PlaceKind, Principal } from "./document.ts";

const PARENTS: Record<PlaceKind, readonly PlaceKind[]> = {
  site: [],
  space: ["site"],
  page: ["space", "page"],
  bulletin: ["space"],
};

/** Follows `next` from every key; the keys that lie on a circle. */
function cyclic(keys: Iterable<string>, next: (key: string) => readonly string[]): Set<string> {
  const done = new Set<string>();
  const found = new Set<string>();
  for (const start of keys) {
    const stack: { key: string; rest: string[] }[] = [];
    const open = new Set<string>();
    const enter = (key: string) => {
      open.add(key);
      stack.push({ key, rest: [...next(key)] });
    };
    if (!done.has(start)) enter(start);
    while (stack.length > 0) {
      const top = stack[stack.length - 1] as { key: string; rest: string[] };
      const step = top.rest.pop();
      if (step === undefined) {
        stack.pop();
        open.delete(top.key);
        done.add(top.key);
      } else if (open.has(step)) for (const { key } of stack.slice(stack.findIndex((it) => it.key === step))) found.add(key);
      else if (!done.has(step)) enter(step);
    }
  }
  return found;
}

class Checker {
  readonly errors: DocumentError[] = [];
  private readonly people;
  private readonly groups;
  private readonly places;

  constructor(private readonly document: AccessDocument) {
    this.people = new Map(document.people.map((person) => [person.id, person]));
    this.groups = new Map(document.groups.map((group) => [group.id, group]));
    this.places = new Map(document.places.map((place) => [place.id, place]));
  }

  private fail(path: string, message: string): void {
    this.errors.push({ path, message });
  }

  ids(): void {
    const seen = new Map<string, string>();
    for (const field of ["people", "groups", "places", "passes", "pledges"] as const) {
      this.document[field].forEach(({ id }, i) => {
        const path = `$.${field}[${i}].id`;
        const first = seen.get(id);
        if (first) this.fail(path, `"${id}" is the id of another thing already, at ${first}`);
        else seen.set(id, path);
      });
    }
  }

  private member(member: GroupMember | Principal, path: string): void {
    if ("person" in member && !this.people.has(member.person)) this.fail(`${path}.person`, `no person has the id "${member.person}"`);
    if ("group" in member && !this.groups.has(member.group)) this.fail(`${path}.group`, `no group has the id "${member.group}"`);
  }

  groupsAndCycles(): void {
    this.document.groups.forEach((group, i) => {
      group.members.forEach((member, j) => {
        this.member(member, `$.groups[${i}].members[${j}]`);
      });
    });
    const subgroups = (id: string) =>
      (this.groups.get(id)?.members ?? []).flatMap((member) => ("group" in member && this.groups.has(member.group) ? [member.group] : []));
    const inCycle = cyclic(this.groups.keys(), subgroups);
    this.document.groups.forEach((group, i) => {
      if (inCycle.has(group.id)) this.fail(`$.groups[${i}].members`, "is part of a cycle of groups");
    });
  }

  private tree(place: Place, path: string): void {
    if (place.kind === "site") {
      if (place.parent !== undefined) this.fail(`${path}.parent`, "a site has no parent");
      return;
    }
    const parent = place.parent === undefined ? undefined : this.places.get(place.parent);
    if (place.parent === undefined) this.fail(path, `a ${place.kind} needs a parent`);
    else if (!parent) this.fail(`${path}.parent`, `no place has the id "${place.parent}"`);
    else if (!PARENTS[place.kind].includes(parent.kind)) this.fail(`${path}.parent`, `a ${place.kind} cannot stand in a ${parent.kind}`);
  }

  private state(place: Place, path: string): void {
    const isPage = place.kind === "page" || place.kind === "bulletin";
    const gone = place.state === "archived" || place.state === "binned";
    if (place.kind === "site" && place.state !== "live") this.fail(`${path}.state`, "a site has no state");
    if (place.kind === "space" && !gone && place.state !== "live") this.fail(`${path}.state`, "a space is live, archived or binned");
    if (place.was !== undefined && !(isPage && gone)) this.fail(`${path}.was`, "belongs to an archived or binned page or bulletin only");
    if (place.owner !== undefined && !this.people.has(place.owner)) this.fail(`${path}.owner`, `no person has the id "${place.owner}"`);
    if (place.ceilings !== undefined && place.kind !== "space") this.fail(`${path}.ceilings`, "only a space has ceilings of its own");
  }

  private rules(place: Place, path: string): void {
    place.grants.forEach((grant, i) => {
      const at = `${path}.grants[${i}]`;
      this.member(grant.to as Principal, `${at}.to`);
      const guest = "person" in grant.to && this.people.get(grant.to.person)?.kind === "guest";
      const audience = "audience" in grant.to ? grant.to.audience : null;
      if (grant.abilities.includes("govern") && (audience !== null || guest)) {
        this.fail(`${at}.abilities`, "govern cannot be granted to an audience or to a guest");
      } else if (grant.abilities.includes("admit") && (audience === "public" || audience === "accounts" || guest)) {
        this.fail(`${at}.abilities`, "admit cannot be granted to the public, to all accounts or to a guest");
      }
    });
    place.fences.forEach((fence, i) => {
      fence.admits.forEach((principal, j) => {
        this.member(principal, `${path}.fences[${i}].admits[${j}]`);
      });
    });
  }

  placesAndTree(): void {
    this.document.places.forEach((place, i) => {
      const path = `$.places[${i}]`;
      this.tree(place, path);
      this.state(place, path);
      this.rules(place, path);
    });
    const sites = this.document.places.filter((place) => place.kind === "site").length;
    if (sites !== 1) this.fail("$.places", `there must be exactly one site; there are ${sites}`);
    const above = (id: string) => {
      const parent = this.places.get(id)?.parent;
      return parent !== undefined && this.places.has(parent) ? [parent] : [];
    };
    const inCycle = cyclic(this.places.keys(), above);
    this.document.places.forEach((place, i) => {
      if (inCycle.has(place.id)) this.fail(`$.places[${i}].parent`, "is part of a cycle of parents");
    });
  }

  passesAndPledges(): void {
    this.document.passes.forEach((pass, i) => {
      const place = this.places.get(pass.place);
      if (!place) this.fail(`$.passes[${i}].place`, `no place has the id "${pass.place}"`);
      else if (place.kind === "site" || place.kind === "space") this.fail(`$.passes[${i}].place`, "a pass opens a page or a bulletin only");
    });
    this.document.pledges.forEach((pledge, i) => {
      const path = `$.pledges[${i}]`;
      if (!("class" in pledge.who)) this.member(pledge.who, `${path}.who`);
      const { space, subtree } = pledge.where;
      if (space !== undefined && this.places.get(space)?.kind !== "space")
        this.fail(`${path}.where.space`, `no space has the id "${space}"`);
      if (subtree !== undefined && !this.places.has(subtree)) this.fail(`${path}.where.subtree`, `no place has the id "${subtree}"`);
    });
  }
}

/** Every error between the parts of a document; empty for a sound one. */
export function checkDocument(document: AccessDocument): DocumentError[] {
  const checker = new Checker(document);
  checker.ids();
  checker.groupsAndCycles();
  checker.placesAndTree();
  checker.passesAndPledges();
  return checker.errors;
}
