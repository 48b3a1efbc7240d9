/** Who asks (access-model.md, sections 1 and 2): subjects as numbers, with the principals that match each of them. */
import {
  type AccessDocument,
  ENDLESS,
  endOf,
  type Group,
  type Instant,
  NEVER,
  type Pass,
  type Person,
  type Principal,
  principalKey,
  type Subject,
  type SubjectNumber,
} from "../model/index.ts";
import { Numbering } from "./numbering.ts";

export type SubjectClass = "outsiders" | "guests" | "members";

export interface CompiledSubject {
  number: SubjectNumber;
  subject: Subject;
  /** Key as `subjectKey` writes it. */
  key: string;
  class: SubjectClass;
  /** Instant up to which the subject counts as active, milliseconds since the epoch: Infinity without an end, -Infinity while suspended. */
  activeUntil: Instant;
  /** Numbers of the principals that match, while the subject is active. */
  matches: ReadonlySet<number>;
  /** Numbers of the principals that would match if the subject were not suspended. */
  named: ReadonlySet<number>;
  person: Person | null;
  pass: Pass | null;
  /** End of the pass, milliseconds since the epoch; only for a pass holder. */
  passEnd: Instant;
}

/** Numbers of the three audiences among principals. */
export const PUBLIC = 0;
export const ACCOUNTS = 1;
export const MEMBERS = 2;

/** Subjects and principals of one document. */
export interface Cast {
  subjects: readonly CompiledSubject[];
  subjectNumbers: Numbering<SubjectNumber>;
  principalNumbers: Numbering;
  /** For each group or person among the principals the active people it matches, by subject number. */
  matching: readonly (readonly SubjectNumber[] | undefined)[];
  /** For each member, by principal key, the groups it stands in directly. */
  holders: ReadonlyMap<string, readonly string[]>;
}

const PUBLIC_NUMBER = 0 as SubjectNumber;

export const PUBLIC_SUBJECT: CompiledSubject = {
  number: PUBLIC_NUMBER,
  subject: { public: true },
  key: "public",
  class: "outsiders",
  activeUntil: ENDLESS,
  matches: new Set([PUBLIC]),
  named: new Set([PUBLIC]),
  person: null,
  pass: null,
  passEnd: NEVER,
};

export const compilePass = (pass: Pass, number: SubjectNumber): CompiledSubject => ({
  ...PUBLIC_SUBJECT,
  number,
  subject: { pass: pass.id },
  key: `pass:${pass.id}`,
  pass,
  passEnd: pass.revoked ? NEVER : endOf(pass.until),
});

/** Whether a subject is active at an instant: not suspended, and their last day not over (section 1). */
export const isActive = ({ activeUntil }: CompiledSubject, at: Instant): boolean => activeUntil > at;

const NOBODY: ReadonlySet<number> = new Set();

export function compilePerson(
  person: Person,
  number: SubjectNumber,
  groups: Iterable<string>,
  principalNumbers: Numbering,
): CompiledSubject {
  const suspended = person.status === "suspended";
  const named = new Set<number>([PUBLIC, ACCOUNTS]);
  if (person.kind === "member") named.add(MEMBERS);
  named.add(principalNumbers.get(`person:${person.id}`) as number);
  for (const group of groups) named.add(principalNumbers.get(`group:${group}`) as number);
  return {
    ...PUBLIC_SUBJECT,
    number,
    subject: { person: person.id },
    key: `person:${person.id}`,
    class: person.kind === "member" ? "members" : "guests",
    activeUntil: suspended ? NEVER : endOf(person.until),
    matches: suspended ? NOBODY : named,
    named,
    person,
  };
}

/** For each member the groups that hold it directly. */
export function holdersOf(groups: readonly Group[]): Map<string, string[]> {
  const holders = new Map<string, string[]>();
  for (const group of groups) {
    for (const member of group.members) {
      const key = principalKey(member);
      const list = holders.get(key);
      if (list) list.push(group.id);
      else holders.set(key, [group.id]);
    }
  }
  return holders;
}

/** The groups somebody is in, directly or through other groups; survives a cycle (section 1). */
export function groupsAbove(holders: ReadonlyMap<string, readonly string[]>, key: string): Set<string> {
  const found = new Set<string>();
  const waiting = [...(holders.get(key) ?? [])];
  while (waiting.length > 0) {
    const id = waiting.pop() as string;
    if (found.has(id)) continue;
    found.add(id);
    waiting.push(...(holders.get(`group:${id}`) ?? []));
  }
  return found;
}

/** Adds an active person to the lists of the principals that match them; audiences are told apart by class instead. */
function addMatches(matching: (SubjectNumber[] | undefined)[], subject: CompiledSubject): void {
  for (const principal of subject.matches) {
    if (principal <= MEMBERS) continue;
    const list = matching[principal];
    if (list) list.push(subject.number);
    else matching[principal] = [subject.number];
  }
}

/** The public first, then pass holders, then people. */
export function compileCast(document: AccessDocument): Cast {
  const principalNumbers = Numbering.of([
    "audience:public",
    "audience:accounts",
    "audience:members",
    ...document.groups.map(({ id }) => `group:${id}`),
    ...document.people.map(({ id }) => `person:${id}`),
  ]);
  const holders = holdersOf(document.groups);
  const subjects: CompiledSubject[] = [PUBLIC_SUBJECT];
  for (const pass of document.passes) subjects.push(compilePass(pass, subjects.length as SubjectNumber));
  const matching: (SubjectNumber[] | undefined)[] = new Array(principalNumbers.size);
  for (const person of document.people) {
    const subject = compilePerson(person, subjects.length as SubjectNumber, groupsAbove(holders, `person:${person.id}`), principalNumbers);
    subjects.push(subject);
    addMatches(matching, subject);
  }
  return { subjects, subjectNumbers: Numbering.of(subjects.map(({ key }) => key)), principalNumbers, matching, holders };
}

/** The principal of a number's key. */
export const numberOfPrincipal = (numbers: Numbering, principal: Principal): number => numbers.get(principalKey(principal)) ?? -1;
