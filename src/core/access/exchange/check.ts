/** What must hold between the parts of an access document that are well-formed one by one (access-model.md, section 11). */
import type { AccessIndex } from "../index/index.ts";
import type {
  AccessDocument,
  DocumentError,
  Edit,
  Group,
  GroupMember,
  Pass,
  Person,
  Place,
  PlaceKind,
  Pledge,
  Principal,
} from "../model/index.ts";

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

/** Finds things of a document by id. */
interface Lookups {
  person(id: string): Person | undefined;
  group(id: string): Group | undefined;
  place(id: string): Place | undefined;
}

function lookupsOf(document: AccessDocument): Lookups {
  const people = new Map(document.people.map((person) => [person.id, person]));
  const groups = new Map(document.groups.map((group) => [group.id, group]));
  const places = new Map(document.places.map((place) => [place.id, place]));
  return { person: (id) => people.get(id), group: (id) => groups.get(id), place: (id) => places.get(id) };
}

class Checker {
  readonly errors: DocumentError[] = [];

  constructor(
    private readonly document: AccessDocument,
    private readonly find: Lookups = lookupsOf(document),
  ) {}

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
    if ("person" in member && !this.find.person(member.person)) this.fail(`${path}.person`, `no person has the id "${member.person}"`);
    if ("group" in member && !this.find.group(member.group)) this.fail(`${path}.group`, `no group has the id "${member.group}"`);
  }

  groupsAndCycles(): void {
    this.document.groups.forEach((group, i) => {
      group.members.forEach((member, j) => {
        this.member(member, `$.groups[${i}].members[${j}]`);
      });
    });
    const subgroups = (id: string) =>
      (this.find.group(id)?.members ?? []).flatMap((member) => ("group" in member && this.find.group(member.group) ? [member.group] : []));
    const inCycle = cyclic(
      this.document.groups.map(({ id }) => id),
      subgroups,
    );
    this.document.groups.forEach((group, i) => {
      if (inCycle.has(group.id)) this.fail(`$.groups[${i}].members`, "is part of a cycle of groups");
    });
  }

  private tree(place: Place, path: string): void {
    if (place.kind === "site") {
      if (place.parent !== undefined) this.fail(`${path}.parent`, "a site has no parent");
      return;
    }
    const parent = place.parent === undefined ? undefined : this.find.place(place.parent);
    if (place.parent === undefined) this.fail(path, `a ${place.kind} needs a parent`);
    else if (!parent) this.fail(`${path}.parent`, `no place has the id "${place.parent}"`);
    else if (!PARENTS[place.kind].includes(parent.kind)) this.fail(`${path}.parent`, `a ${place.kind} cannot stand in a ${parent.kind}`);
  }

  state(place: Place, path: string): void {
    const isPage = place.kind === "page" || place.kind === "bulletin";
    const gone = place.state === "archived" || place.state === "binned";
    if (place.kind === "site" && place.state !== "live") this.fail(`${path}.state`, "a site has no state");
    if (place.kind === "space" && !gone && place.state !== "live") this.fail(`${path}.state`, "a space is live, archived or binned");
    if (place.was !== undefined && !(isPage && gone)) this.fail(`${path}.was`, "belongs to an archived or binned page or bulletin only");
    if (place.binnedFrom !== undefined && (place.state !== "binned" || place.kind === "site"))
      this.fail(`${path}.binnedFrom`, "belongs to a binned page, bulletin or space only");
  }

  private ownerAndCeilings(place: Place, path: string): void {
    if (place.owner !== undefined && !this.find.person(place.owner)) this.fail(`${path}.owner`, `no person has the id "${place.owner}"`);
    if (place.ceilings !== undefined && place.kind !== "space") this.fail(`${path}.ceilings`, "only a space has ceilings of its own");
  }

  private rules(place: Place, path: string): void {
    place.grants.forEach((grant, i) => {
      const where = `${path}.grants[${i}]`;
      this.member(grant.to as Principal, `${where}.to`);
      const guest = "person" in grant.to && this.find.person(grant.to.person)?.kind === "guest";
      const audience = "audience" in grant.to ? grant.to.audience : null;
      if (grant.abilities.includes("govern") && (audience !== null || guest)) {
        this.fail(`${where}.abilities`, "govern cannot be granted to an audience or to a guest");
      } else if (grant.abilities.includes("admit") && (audience === "public" || audience === "accounts" || guest)) {
        this.fail(`${where}.abilities`, "admit cannot be granted to the public, to all accounts or to a guest");
      }
    });
    place.fences.forEach((fence, i) => {
      fence.admits.forEach((principal, j) => {
        this.member(principal, `${path}.fences[${i}].admits[${j}]`);
      });
    });
  }

  place(place: Place, path: string): void {
    this.tree(place, path);
    this.state(place, path);
    this.ownerAndCeilings(place, path);
    this.rules(place, path);
  }

  placesAndTree(): void {
    this.document.places.forEach((place, i) => {
      this.place(place, `$.places[${i}]`);
    });
    const sites = this.document.places.filter((place) => place.kind === "site").length;
    if (sites !== 1) this.fail("$.places", `there must be exactly one site; there are ${sites}`);
    const above = (id: string) => {
      const parent = this.find.place(id)?.parent;
      return parent !== undefined && this.find.place(parent) ? [parent] : [];
    };
    const inCycle = cyclic(
      this.document.places.map(({ id }) => id),
      above,
    );
    this.document.places.forEach((place, i) => {
      if (inCycle.has(place.id)) this.fail(`$.places[${i}].parent`, "is part of a cycle of parents");
    });
  }

  pass(pass: Pass, path: string): void {
    const place = this.find.place(pass.place);
    if (!place) this.fail(`${path}.place`, `no place has the id "${pass.place}"`);
    else if (place.kind === "site" || place.kind === "space") this.fail(`${path}.place`, "a pass opens a page or a bulletin only");
  }

  pledge(pledge: Pledge, path: string): void {
    if (!("class" in pledge.who)) this.member(pledge.who, `${path}.who`);
    const { space, subtree } = pledge.where;
    if (space !== undefined && this.find.place(space)?.kind !== "space") this.fail(`${path}.where.space`, `no space has the id "${space}"`);
    if (subtree !== undefined && !this.find.place(subtree)) this.fail(`${path}.where.subtree`, `no place has the id "${subtree}"`);
  }

  passesAndPledges(): void {
    this.document.passes.forEach((pass, i) => {
      this.pass(pass, `$.passes[${i}]`);
    });
    this.document.pledges.forEach((pledge, i) => {
      this.pledge(pledge, `$.pledges[${i}]`);
    });
  }

  /** Rules everywhere that a person may no longer be named in once they are a guest, or that name a group that is gone. */
  rulesAndPledgesEverywhere(): void {
    this.document.places.forEach((place, i) => {
      if (place.grants.length + place.fences.length > 0) this.rules(place, `$.places[${i}]`);
    });
    this.passesAndPledges();
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

/** The list that an edit may bring something into, and its id. */
function broughtIn(edit: Edit): [field: string, id: string] | null {
  switch (edit.kind) {
    case "start":
      return ["places", edit.place];
    case "person":
      return ["people", edit.person];
    case "group":
      return ["groups", edit.group];
    case "pass":
      return ["passes", edit.pass];
    case "pledge":
      return ["pledges", edit.pledge];
    default:
      return null;
  }
}

/** Ids that edits bring in and that something of another kind has already. */
function takenIds(index: AccessIndex, edits: readonly Edit[]): DocumentError[] {
  const { document } = index;
  return edits.flatMap((edit): DocumentError[] => {
    const brought = broughtIn(edit);
    if (!brought) return [];
    const [field, id] = brought;
    const has: Record<string, boolean> = {
      places: index.placeNumbers.get(id) !== undefined,
      people: index.subjectNumbers.get(`person:${id}`) !== undefined,
      groups: document.groups.some((it) => it.id === id),
      passes: index.subjectNumbers.get(`pass:${id}`) !== undefined,
      pledges: document.pledges.some((it) => it.id === id),
    };
    const other = Object.keys(has).find((name) => has[name] && name !== field);
    return other ? [{ path: `$.${field}`, message: `"${id}" is the id of another thing already, among ${other}` }] : [];
  });
}

/** Every error that edits brought into a document that was sound before them. `after` is the index with the edits made. */
export function checkEdits(after: AccessIndex, edits: readonly Edit[]): DocumentError[] {
  const { document } = after;
  const groups = new Map(document.groups.map((group) => [group.id, group]));
  const checker = new Checker(document, {
    person: (id) => after.subjects[after.subjectNumbers.get(`person:${id}`) ?? -1]?.person ?? undefined,
    group: (id) => groups.get(id),
    place: (id) => document.places[after.placeNumbers.get(id) ?? -1],
  });
  checker.errors.push(...takenIds(after, edits));
  let groupsChanged = false;
  let namesChanged = false;
  for (const edit of edits) {
    if (edit.kind === "group" || edit.kind === "member") groupsChanged = true;
    if ((edit.kind === "group" && !edit.put) || (edit.kind === "person" && edit.put?.kind === "guest")) namesChanged = true;
    if (edit.kind === "pass" && edit.put) checker.pass(edit.put, "$.passes[-]");
    if (edit.kind === "pledge" && edit.put) checker.pledge(edit.put, "$.pledges[-]");
    if (!("place" in edit)) continue;
    const number = after.placeNumbers.get(edit.place);
    const place = document.places[number ?? -1];
    if (!place) continue;
    // Of thousands of edits most change a state, which can make nothing else of a place unsound.
    if (edit.kind === "state") checker.state(place, `$.places[${number}]`);
    else checker.place(place, `$.places[${number}]`);
  }
  if (groupsChanged) checker.groupsAndCycles();
  if (namesChanged) checker.rulesAndPledgesEverywhere();
  return checker.errors;
}
