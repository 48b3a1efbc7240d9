/** Taking in changes of people, groups and passes: who asks, and which principals match them, after some edits. */
import {
  type AccessIndex,
  type Cast,
  type CompiledSubject,
  compilePass,
  compilePerson,
  groupsAbove,
  MEMBERS,
  type Numbering,
} from "../index/index.ts";
import {
  type AccessDocument,
  type Edit,
  type GroupMember,
  type Pass,
  type Person,
  principalKey,
  type SubjectNumber,
} from "../model/index.ts";

export interface CastUpdate {
  cast: Cast;
  changed: {
    /** Somebody came in, or is of another kind or status: every audience counts differently. */
    everywhere: boolean;
    /** Principals that match somebody else than before. */
    principals: ReadonlySet<number>;
  };
}

const castOf = ({ subjects, subjectNumbers, principalNumbers, matching, holders }: AccessIndex): Cast => ({
  subjects,
  subjectNumbers,
  principalNumbers,
  matching,
  holders,
});

const isAboutCast = (edit: Edit): boolean => ["person", "group", "member", "pass"].includes(edit.kind);

/** The cast after edits; the very same lists where none of them concerns people, groups or passes. */
export function updateCast(before: AccessIndex, document: AccessDocument, edits: readonly Edit[]): CastUpdate {
  const concerned = edits.filter(isAboutCast);
  if (concerned.length === 0) return { cast: castOf(before), changed: { everywhere: false, principals: new Set() } };
  return new CastChange(before, document, concerned).result();
}

class CastChange {
  private readonly subjects: CompiledSubject[];
  private readonly matching: (readonly SubjectNumber[] | undefined)[];
  private readonly holders: Map<string, readonly string[]>;
  private readonly principals = new Set<number>();
  private subjectNumbers: Numbering<SubjectNumber>;
  private everywhere = false;
  private readonly principalNumbers: Numbering;

  constructor(
    private readonly before: AccessIndex,
    private readonly document: AccessDocument,
    private readonly edits: readonly Edit[],
  ) {
    this.subjects = before.subjects.slice();
    this.matching = before.matching.slice();
    this.holders = new Map(before.holders);
    this.principalNumbers = before.principalNumbers.with(
      edits.flatMap((edit) => (edit.kind === "group" ? [`group:${edit.group}`] : edit.kind === "person" ? [`person:${edit.person}`] : [])),
    );
    this.subjectNumbers = before.subjectNumbers.with(
      edits.flatMap((edit) => (edit.kind === "person" ? [`person:${edit.person}`] : edit.kind === "pass" ? [`pass:${edit.pass}`] : [])),
    );
  }

  result(): CastUpdate {
    const people = this.concernedPeople();
    const byId = new Map<string, Person>();
    for (const person of this.document.people) if (people.has(person.id)) byId.set(person.id, person);
    for (const person of byId.values()) this.person(person);
    for (const edit of this.edits) {
      const pass = edit.kind === "pass" ? this.document.passes.find(({ id }) => id === edit.pass) : undefined;
      if (pass) this.pass(pass);
    }
    const { subjects, subjectNumbers, principalNumbers, matching, holders } = this;
    return {
      cast: { subjects, subjectNumbers, principalNumbers, matching, holders },
      changed: { everywhere: this.everywhere, principals: this.principals },
    };
  }

  /** People whose groups, kind or status may be others now; brings `holders` up to date on the way. */
  private concernedPeople(): Set<string> {
    const people = new Set<string>();
    const within = (member: GroupMember) => {
      if ("person" in member) people.add(member.person);
      else {
        const number = this.before.principalNumbers.get(`group:${member.group}`) ?? -1;
        for (const it of this.before.matching[number] ?? []) people.add((this.before.subjects[it] as CompiledSubject).person?.id ?? "");
        for (const id of suspendedWithin(this.document, member.group)) people.add(id);
      }
    };
    for (const edit of this.edits) {
      if (edit.kind === "person") people.add(edit.person);
      if (edit.kind !== "member") continue;
      for (const member of [edit.remove, edit.put]) if (member) within(member);
      const hold = (member: GroupMember, change: (list: readonly string[]) => readonly string[]) =>
        this.holders.set(principalKey(member), change(this.holders.get(principalKey(member)) ?? []));
      if (edit.remove) hold(edit.remove, (list) => list.filter((id) => id !== edit.group));
      if (edit.put) hold(edit.put, (list) => [...list.filter((id) => id !== edit.group), edit.group]);
    }
    return people;
  }

  private person(person: Person): void {
    const number = this.subjectNumbers.get(`person:${person.id}`) as SubjectNumber;
    const old = this.before.subjects[number];
    const groups = groupsAbove(this.holders, `person:${person.id}`);
    const made = compilePerson(person, number, groups, this.principalNumbers);
    this.subjects[number] = made;
    if (!old || old.class !== made.class || old.activeUntil !== made.activeUntil) this.everywhere = true;
    const was = old?.matches ?? new Set<number>();
    for (const principal of made.matches)
      if (principal > MEMBERS && !was.has(principal)) this.match(principal, (list) => [...list, number]);
    for (const principal of was)
      if (principal > MEMBERS && !made.matches.has(principal)) this.match(principal, (list) => list.filter((it) => it !== number));
  }

  private match(principal: number, change: (list: readonly SubjectNumber[]) => readonly SubjectNumber[]): void {
    this.matching[principal] = change(this.matching[principal] ?? []);
    this.principals.add(principal);
  }

  private pass(pass: Pass): void {
    const number = this.subjectNumbers.get(`pass:${pass.id}`) as SubjectNumber;
    if (!this.before.subjects[number]) this.everywhere = true;
    this.subjects[number] = compilePass(pass, number);
  }
}

/** Suspended people in a group, directly or through other groups: lists of matches leave them out. */
function suspendedWithin(document: AccessDocument, group: string): string[] {
  const suspended = new Set(document.people.filter(({ status }) => status === "suspended").map(({ id }) => id));
  const groups = new Map(document.groups.map((it) => [it.id, it]));
  const seen = new Set<string>();
  const found: string[] = [];
  const waiting = [group];
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
    if (seen.has(id)) continue;
    seen.add(id);
    for (const member of groups.get(id)?.members ?? []) {
      if ("group" in member) waiting.push(member.group);
      else if (suspended.has(member.person)) found.push(member.person);
    }
  }
  return found;
}
