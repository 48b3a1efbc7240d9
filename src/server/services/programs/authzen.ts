/**
 * The AuthZEN Authorization API 1.0 over the access core. Subjects are of type `person` (or `user`), `pass` or `public`;
 * resources of type `site`, `space`, `page`, `bulletin`, or `place` for any of them; actions are the nine abilities.
 * Whoever or whatever is not there gets a plain no. `context.time` asks about another instant by today's rules.
 */
import {
  type ActionSearchBody,
  type EntityBody,
  type EvaluationBody,
  type EvaluationsBody,
  MOST_RESULTS,
  type PageBody,
  type ResourceSearchBody,
  type Semantics,
  type SubjectSearchBody,
} from "../../../contracts/programs.ts";
import { decide, SET_OF_CELL } from "../../../core/access/decide/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { ABILITIES, type Ability, abilitiesIn, bitOf, type Instant, instantOf, NO_INSTANT } from "../../../core/access/model/index.ts";
import { type Access, accessNow } from "../../access/current.ts";
import { badRequest } from "../../trouble.ts";

interface Decision {
  decision: boolean;
  context?: { reason: string };
}

const PERSON_TYPES = ["person", "user"];

function instantIn(context: Record<string, unknown> | undefined, otherwise: Instant): Instant {
  if (context?.time === undefined) return otherwise;
  const at = typeof context.time === "string" ? instantOf(context.time) : NO_INSTANT;
  if (Number.isNaN(at)) throw badRequest('context.time must be an ISO 8601 instant with an offset, like "2027-01-01T00:00:00Z".');
  return at;
}

function subjectIn(index: AccessIndex, { type, id }: EntityBody): CompiledSubject | undefined {
  if (type === "public") return subjectOf(index, { public: true });
  if (type === "pass") return subjectOf(index, { pass: id });
  return PERSON_TYPES.includes(type) ? subjectOf(index, { person: id }) : undefined;
}

const isOfType = (place: CompiledPlace, type: string): boolean => type === "place" || place.place.kind === type;

function placeIn(index: AccessIndex, { type, id }: EntityBody): CompiledPlace | undefined {
  const place = placeOf(index, id);
  return place && isOfType(place, type) ? place : undefined;
}

const abilityIn = (name: string): Ability | undefined => ABILITIES.find((ability) => ability === name);

const no = (reason: string): Decision => ({ decision: false, context: { reason } });

function evaluateOne(access: Access, { subject, action, resource, context }: EvaluationBody): Decision {
  const { index } = access;
  const at = instantIn(context, access.at);
  const ability = abilityIn(action.name);
  if (!ability) return no(`"${action.name}" is no action here; actions are ${ABILITIES.join(", ")}`);
  const who = subjectIn(index, subject);
  if (!who) return no("no such subject");
  const where = placeIn(index, resource);
  if (!where) return no("no such resource");
  return { decision: (decide(index, who.number, where.number, at) & bitOf(ability)) !== 0 };
}

export const evaluate = async (body: EvaluationBody): Promise<Decision> => evaluateOne(await accessNow(), body);

const STOPS: Record<Semantics, (decision: boolean) => boolean> = {
  execute_all: () => false,
  deny_on_first_deny: (decision) => !decision,
  permit_on_first_permit: (decision) => decision,
};

/** Several at once, all by the same rules. Without a list, the one that the request itself holds. */
export async function evaluateAll(body: EvaluationsBody): Promise<Decision | { evaluations: Decision[] }> {
  const access = await accessNow();
  const { evaluations, options, ...shared } = body;
  const whole = (one: typeof shared, where: string): EvaluationBody => {
    const { subject, action, resource, context } = { ...shared, ...one };
    if (!subject || !action || !resource) throw badRequest(`${where} needs a subject, an action and a resource, its own or the request's.`);
    return { subject, action, resource, ...(context ? { context } : {}) };
  };
  if (!evaluations || evaluations.length === 0) return evaluateOne(access, whole({}, "The request"));
  const stops = STOPS[options?.evaluations_semantic ?? "execute_all"];
  const requests = evaluations.map((one, i) => whole(one, `evaluations[${i}]`));
  const answers: Decision[] = [];
  for (const one of requests) {
    const answer = evaluateOne(access, one);
    answers.push(answer);
    if (stops(answer.decision)) break;
  }
  return { evaluations: answers };
}

/** One page of results in a fixed order; the token of the next page is the last result of this one. */
function paged<T>(all: readonly T[], keyOf: (item: T) => string, page: PageBody | undefined) {
  const limit = page?.limit ?? MOST_RESULTS;
  const after = page?.token ? Buffer.from(page.token, "base64url").toString("utf8") : null;
  const sorted = [...all].sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1));
  const start = after === null ? 0 : sorted.findIndex((item) => keyOf(item) > after);
  const results = start < 0 ? [] : sorted.slice(start, start + limit);
  const last = results.at(-1);
  const more = start >= 0 && start + limit < sorted.length && last !== undefined;
  return {
    page: { next_token: more ? Buffer.from(keyOf(last)).toString("base64url") : "", count: results.length, total: sorted.length },
    results,
  };
}

const typeOf = (subject: CompiledSubject): string => (subject.person ? "person" : subject.pass ? "pass" : "public");
const idOf = (subject: CompiledSubject): string => subject.person?.id ?? subject.pass?.id ?? "public";

/** The rules, and the instant a search asks about. */
async function asked(context: Record<string, unknown> | undefined): Promise<Access> {
  const access = await accessNow();
  return { ...access, at: instantIn(context, access.at) };
}

/** Who of a type has an ability at a place. */
export async function searchSubjects(body: SubjectSearchBody) {
  const { index, at } = await asked(body.context);
  const ability = abilityIn(body.action.name);
  const where = placeIn(index, body.resource);
  const wanted = PERSON_TYPES.includes(body.subject.type) ? "person" : body.subject.type;
  const has = (it: CompiledSubject) => ability && where && (decide(index, it.number, where.number, at) & bitOf(ability)) !== 0;
  const found = index.subjects.filter((it) => typeOf(it) === wanted && has(it)).map((it) => ({ type: body.subject.type, id: idOf(it) }));
  return paged(found, ({ id }) => id, body.page);
}

/** At which places of a type a subject has an ability. */
export async function searchResources(body: ResourceSearchBody) {
  const { index, at } = await asked(body.context);
  const ability = abilityIn(body.action.name);
  const who = subjectIn(index, body.subject);
  const has = (it: CompiledPlace) => ability && who && (decide(index, who.number, it.number, at) & bitOf(ability)) !== 0;
  const found = index.places
    .filter((it) => isOfType(it, body.resource.type) && has(it))
    .map(({ place }) => ({ type: place.kind, id: place.id }));
  return paged(found, ({ id }) => id, body.page);
}

/** What a subject may do at a place. */
export async function searchActions(body: ActionSearchBody) {
  const { index, at } = await asked(body.context);
  const who = subjectIn(index, body.subject);
  const where = placeIn(index, body.resource);
  const set = who && where ? decide(index, who.number, where.number, at) & SET_OF_CELL : 0;
  const found = abilitiesIn(set).map((name) => ({ name }));
  return paged(found, ({ name }) => name, body.page);
}
