/**
 * Reads an access document (access-model.md, section 11). A document is refused as a whole, and every error is listed
 * with the JSON path it stands at.
 */
import { isLine } from "../../words.ts";
import {
  ABILITIES,
  type Ability,
  type AccessDocument,
  type Ceilings,
  close,
  DEFAULT_CEILINGS,
  type DocumentError,
  distinct,
  type Edit,
  type Fence,
  fenceKey,
  type Grant,
  type Group,
  type GroupMember,
  GUEST_LIMIT,
  grantKey,
  instantOf,
  maskOf,
  OUTSIDER_LIMIT,
  type Pass,
  type Person,
  type Place,
  type Pledge,
  type PledgeWho,
  type Principal,
  STATES,
  STATES_BEFORE,
} from "../model/index.ts";
import { checkDocument } from "./check.ts";

export type ParseResult = { ok: true; document: AccessDocument } | { ok: false; errors: DocumentError[] };

type Json = Record<string, unknown>;

/** Collects errors while it reads; what cannot be read is replaced by something harmless, since the whole is refused. */
class Reader {
  readonly errors: DocumentError[] = [];

  fail(path: string, message: string): void {
    this.errors.push({ path, message });
  }

  object(value: unknown, path: string, fields: readonly string[]): Json {
    if (typeof value !== "object" || value === null || Array.isArray(value)) {
      this.fail(path, "must be an object");
      return {};
    }
    for (const field of Object.keys(value)) {
      if (!fields.includes(field)) this.fail(`${path}.${field}`, `is an unknown field; known here: ${fields.join(", ")}`);
    }
    return value as Json;
  }

  list<T>(value: unknown, path: string, read: (item: unknown, path: string) => T): T[] {
    if (value === undefined) return [];
    if (!Array.isArray(value)) {
      this.fail(path, "must be a list");
      return [];
    }
    return value.map((item, i) => read(item, `${path}[${i}]`));
  }

  text(value: unknown, path: string): string {
    if (typeof value === "string" && value !== "") return value;
    this.fail(path, "must be a text that is not empty");
    return "";
  }

  /** A name or a title. */
  optionalLine(value: unknown, path: string): string | undefined {
    const text = this.optionalText(value, path);
    if (text !== undefined && !isLine(text)) this.fail(path, "must be one line");
    return text;
  }

  optionalText(value: unknown, path: string): string | undefined {
    if (value === undefined) return undefined;
    if (typeof value === "string") return value;
    this.fail(path, "must be a text");
    return undefined;
  }

  flag(value: unknown, path: string, otherwise: boolean): boolean {
    if (value === undefined) return otherwise;
    if (typeof value === "boolean") return value;
    this.fail(path, "must be true or false");
    return otherwise;
  }

  oneOf<T extends string>(value: unknown, path: string, allowed: readonly T[], otherwise?: T): T {
    if (value === undefined && otherwise !== undefined) return otherwise;
    if (allowed.includes(value as T)) return value as T;
    this.fail(path, `must be one of ${allowed.join(", ")}`);
    return (otherwise ?? allowed[0]) as T;
  }

  abilities(value: unknown, path: string): Ability[] {
    const list = this.list(value, path, (item, at) => this.oneOf(item, at, ABILITIES));
    return ABILITIES.filter((ability) => list.includes(ability));
  }

  until(value: unknown, path: string): string | null {
    if (value === undefined || value === null) return null;
    const instant = typeof value === "string" ? instantOf(value) : Number.NaN;
    if (Number.isNaN(instant)) {
      this.fail(path, 'must be an ISO 8601 instant with an offset, of the years 1 to 9999, like "2027-01-01T00:00:00Z"');
      return null;
    }
    return new Date(instant).toISOString();
  }
}

function readPrincipal(r: Reader, value: unknown, path: string): Principal {
  const it = r.object(value, path, ["audience", "group", "person"]);
  if (Object.keys(it).length !== 1) r.fail(path, "must name exactly one of audience, group, person");
  if (it.group !== undefined) return { group: r.text(it.group, `${path}.group`) };
  if (it.person !== undefined) return { person: r.text(it.person, `${path}.person`) };
  return { audience: r.oneOf(it.audience, `${path}.audience`, ["public", "accounts", "members"] as const, "members") };
}

function readGrant(r: Reader, value: unknown, path: string): Grant {
  const it = r.object(value, path, ["to", "abilities", "until", "draft"]);
  const abilities = r.abilities(it.abilities, `${path}.abilities`);
  if (abilities.length === 0) r.fail(`${path}.abilities`, "grants no abilities");
  const closed = ABILITIES.filter((_, i) => close(maskOf(abilities)) & (1 << i));
  const until = r.until(it.until, `${path}.until`);
  const draft = r.flag(it.draft, `${path}.draft`, false);
  return {
    to: readPrincipal(r, it.to, `${path}.to`),
    abilities: closed,
    ...(until === null ? {} : { until }),
    ...(draft ? { draft } : {}),
  };
}

function readFence(r: Reader, value: unknown, path: string): Fence {
  const it = r.object(value, path, ["kind", "admits"]);
  return {
    kind: r.oneOf(it.kind, `${path}.kind`, ["read", "write"] as const),
    admits: r.list(it.admits, `${path}.admits`, (item, at) => readPrincipal(r, item, at)),
  };
}

function readCeilings(r: Reader, value: unknown, path: string): Ceilings {
  const it = r.object(value, path, ["outsiders", "guests", "passes"]);
  const ceilings: Ceilings = {};
  for (const [field, limit] of [
    ["outsiders", OUTSIDER_LIMIT],
    ["guests", GUEST_LIMIT],
  ] as const) {
    if (it[field] === undefined) continue;
    const abilities = r.abilities(it[field], `${path}.${field}`);
    const mask = maskOf(abilities);
    if (close(mask) !== mask) r.fail(`${path}.${field}`, "is not closed: an ability stands without one it needs");
    if (mask & ~limit) r.fail(`${path}.${field}`, `is over the hard limit for ${field}`);
    ceilings[field] = abilities;
  }
  if (it.passes !== undefined) ceilings.passes = r.flag(it.passes, `${path}.passes`, true);
  return ceilings;
}

function readPerson(r: Reader, value: unknown, path: string): Person {
  const it = r.object(value, path, ["id", "name", "kind", "status", "until"]);
  const until = r.until(it.until, `${path}.until`);
  const name = r.optionalLine(it.name, `${path}.name`);
  return {
    id: r.text(it.id, `${path}.id`),
    ...(name === undefined ? {} : { name }),
    kind: r.oneOf(it.kind, `${path}.kind`, ["member", "guest"] as const),
    status: r.oneOf(it.status, `${path}.status`, ["active", "suspended"] as const, "active"),
    ...(until === null ? {} : { until }),
  };
}

function readGroup(r: Reader, value: unknown, path: string): Group {
  const it = r.object(value, path, ["id", "name", "members"]);
  const name = r.optionalLine(it.name, `${path}.name`);
  return {
    id: r.text(it.id, `${path}.id`),
    ...(name === undefined ? {} : { name }),
    members: r.list(it.members, `${path}.members`, (item, at) => readMember(r, item, at)),
  };
}

function readMember(r: Reader, value: unknown, path: string): GroupMember {
  const member = r.object(value, path, ["person", "group"]);
  if (Object.keys(member).length !== 1) r.fail(path, "must name exactly one of person, group");
  return member.group !== undefined
    ? { group: r.text(member.group, `${path}.group`) }
    : { person: r.text(member.person, `${path}.person`) };
}

/** A group without its members, which are put in and taken out one by one. */
function readBareGroup(r: Reader, value: unknown, path: string): Omit<Group, "members"> {
  const it = r.object(value, path, ["id", "name"]);
  const name = r.optionalLine(it.name, `${path}.name`);
  return { id: r.text(it.id, `${path}.id`), ...(name === undefined ? {} : { name }) };
}

/** Things with ids stay what they are: nothing is put under the id of something else. */
const ID_OF: Partial<Record<Edit["kind"], string>> = { person: "person", group: "group", pass: "pass", pledge: "pledge" };

function checkIds(r: Reader, edit: Edit, path: string): void {
  const field = ID_OF[edit.kind];
  if (field === undefined) return;
  const it = edit as unknown as Record<string, unknown> & { put?: { id?: unknown }; remove?: { id?: unknown } };
  for (const side of ["remove", "put"] as const)
    if (it[side] !== undefined && it[side]?.id !== it[field])
      r.fail(`${path}.${side}.id`, `must be the id the edit is about, "${String(it[field])}"`);
}

/** What an edit puts, and what it replaces, read as a rule or a thing of its kind; null where the kind has neither. */
const READERS: Partial<Record<Edit["kind"], (r: Reader, value: unknown, path: string) => unknown>> = {
  grant: readGrant,
  fence: readFence,
  person: readPerson,
  group: readBareGroup,
  member: readMember,
  pledge: readPledge,
};

const PLACE_FIELDS = [
  "id",
  "kind",
  "parent",
  "title",
  "state",
  "was",
  "binnedFrom",
  "stance",
  "owner",
  "tags",
  "grants",
  "fences",
  "ceilings",
];

function readPlace(r: Reader, value: unknown, path: string): Place {
  const it = r.object(value, path, PLACE_FIELDS);
  const parent = it.parent === undefined || it.parent === null ? undefined : r.text(it.parent, `${path}.parent`);
  const title = r.optionalLine(it.title, `${path}.title`);
  const owner = it.owner === undefined || it.owner === null ? undefined : r.text(it.owner, `${path}.owner`);
  const was = it.was === undefined || it.was === null ? undefined : r.oneOf(it.was, `${path}.was`, STATES_BEFORE);
  const binnedFrom =
    it.binnedFrom === undefined || it.binnedFrom === null ? undefined : r.oneOf(it.binnedFrom, `${path}.binnedFrom`, ["archived"] as const);
  return {
    id: r.text(it.id, `${path}.id`),
    kind: r.oneOf(it.kind, `${path}.kind`, ["site", "space", "page", "bulletin"] as const),
    ...(parent === undefined ? {} : { parent }),
    ...(title === undefined ? {} : { title }),
    state: r.oneOf(it.state, `${path}.state`, STATES, "live"),
    ...(was === undefined ? {} : { was }),
    ...(binnedFrom === undefined ? {} : { binnedFrom }),
    stance: r.oneOf(it.stance, `${path}.stance`, ["follow", "fresh"] as const, "follow"),
    ...(owner === undefined ? {} : { owner }),
    tags: r.list(it.tags, `${path}.tags`, (item, at) => r.text(item, at)),
    // A rule that stands somewhere twice is one rule.
    grants: distinct(
      r.list(it.grants, `${path}.grants`, (item, at) => readGrant(r, item, at)),
      grantKey,
    ),
    fences: distinct(
      r.list(it.fences, `${path}.fences`, (item, at) => readFence(r, item, at)),
      fenceKey,
    ),
    ...(it.ceilings === undefined ? {} : { ceilings: readCeilings(r, it.ceilings, `${path}.ceilings`) }),
  };
}

function readPass(r: Reader, value: unknown, path: string): Pass {
  const it = r.object(value, path, ["id", "place", "below", "until", "revoked"]);
  const until = r.until(it.until, `${path}.until`);
  return {
    id: r.text(it.id, `${path}.id`),
    place: r.text(it.place, `${path}.place`),
    below: r.flag(it.below, `${path}.below`, false),
    ...(until === null ? {} : { until }),
    revoked: r.flag(it.revoked, `${path}.revoked`, false),
  };
}

function readPledge(r: Reader, value: unknown, path: string): Pledge {
  const it = r.object(value, path, ["id", "who", "rule", "ability", "where", "why"]);
  const who = r.object(it.who, `${path}.who`, ["class", "group", "person"]);
  if (Object.keys(who).length !== 1) r.fail(`${path}.who`, "must name exactly one of class, group, person");
  const where = it.where === undefined ? {} : r.object(it.where, `${path}.where`, ["space", "subtree", "tag", "state"]);
  const filter: Pledge["where"] = {};
  for (const field of ["space", "subtree", "tag"] as const) {
    if (where[field] !== undefined) filter[field] = r.text(where[field], `${path}.where.${field}`);
  }
  if (where.state !== undefined) filter.state = r.oneOf(where.state, `${path}.where.state`, STATES);
  const why = r.optionalText(it.why, `${path}.why`);
  let covered: PledgeWho;
  if (who.group !== undefined) covered = { group: r.text(who.group, `${path}.who.group`) };
  else if (who.person !== undefined) covered = { person: r.text(who.person, `${path}.who.person`) };
  else covered = { class: r.oneOf(who.class, `${path}.who.class`, ["outsiders", "guests", "members"] as const) };
  return {
    id: r.text(it.id, `${path}.id`),
    who: covered,
    rule: r.oneOf(it.rule, `${path}.rule`, ["never", "always"] as const),
    ability: r.oneOf(it.ability, `${path}.ability`, ABILITIES),
    where: filter,
    ...(why === undefined ? {} : { why }),
  };
}

/** Whether an error in the shape of something is why something else seems wrong: it stands there, above, or within. */
function causes(shape: DocumentError, { path, message }: DocumentError): boolean {
  const within = (a: string, b: string) => a === b || a.startsWith(`${b}.`) || a.startsWith(`${b}[`);
  return within(path, shape.path) || within(shape.path, path) || message.includes('""');
}

const TOP_FIELDS = ["tesoroAccess", "ceilings", "people", "groups", "places", "passes", "pledges"];

/**
 * Reads and validates an access document from parsed JSON. Grants come back closed, defaults filled in, instants cut to
 * the millisecond and written in UTC. Returns either the document or every error with its path; never throws.
 */
export function parseAccessDocument(value: unknown): ParseResult {
  const r = new Reader();
  const it = r.object(value, "$", TOP_FIELDS);
  if (r.errors.length === 0 && it.tesoroAccess !== 1) r.fail("$.tesoroAccess", "must be 1, the version this program reads");
  const document: AccessDocument = {
    tesoroAccess: 1,
    ceilings: { ...DEFAULT_CEILINGS, ...(it.ceilings === undefined ? {} : readCeilings(r, it.ceilings, "$.ceilings")) },
    people: r.list(it.people, "$.people", (item, at) => readPerson(r, item, at)),
    groups: r.list(it.groups, "$.groups", (item, at) => readGroup(r, item, at)),
    places: r.list(it.places, "$.places", (item, at) => readPlace(r, item, at)),
    passes: r.list(it.passes, "$.passes", (item, at) => readPass(r, item, at)),
    pledges: r.list(it.pledges, "$.pledges", (item, at) => readPledge(r, item, at)),
  };
  // What is wrong between the parts is told beside what is wrong in them, so that nobody mends one only to meet the next.
  const errors = [...r.errors, ...checkDocument(document).filter((error) => !r.errors.some((known) => causes(known, error)))];
  return errors.length > 0 ? { ok: false, errors } : { ok: true, document };
}

/**
 * Reads edits that came from outside: rules are closed and their instants written in UTC, as in a document. Returns the
 * edits or every error with its path. Edits of other kinds pass as they are.
 */
export function parseEdits(edits: readonly Edit[]): { ok: true; edits: Edit[] } | { ok: false; errors: DocumentError[] } {
  const r = new Reader();
  const rule = <T>(value: unknown, path: string, read: (r: Reader, value: unknown, path: string) => T): T | undefined =>
    value === undefined ? undefined : read(r, value, path);
  const parsed = edits.map((edit, i): Edit => {
    // Nobody is null, also where the field was left out.
    if (edit.kind === "owner" || edit.kind === "readiness" || edit.kind === "reviewPeriod" || edit.kind === "landing")
      return { ...edit, from: edit.from ?? null, to: edit.to ?? null } as Edit;
    const path = `$.edits[${i}]`;
    if (edit.kind === "ceilings") {
      const [from, to] = [edit.from, edit.to].map((it, side) =>
        it == null ? null : readCeilings(r, it, `${path}.${side === 0 ? "from" : "to"}`),
      );
      return { ...edit, from: from ?? null, to: to ?? null };
    }
    checkIds(r, edit, path);
    const read = READERS[edit.kind];
    if (!read) return edit;
    const { remove: before, put: after, ...rest } = edit as Edit & { remove?: unknown; put?: unknown };
    if (before === undefined && after === undefined) r.fail(path, "neither puts nor removes anything");
    const [remove, put] = [rule(before, `${path}.remove`, read), rule(after, `${path}.put`, read)];
    return { ...rest, ...(remove ? { remove } : {}), ...(put ? { put } : {}) } as Edit;
  });
  return r.errors.length > 0 ? { ok: false, errors: r.errors } : { ok: true, edits: parsed };
}
