/** node-casbin: roles for people, a role hierarchy for places, fences as a function of its matcher. */
import { newEnforcer, newModelFromString } from "casbin";
import type { PeerWorld, Question } from "../questions.ts";

const MODEL = `
[request_definition]
r = sub, obj, act
[policy_definition]
p = sub, obj, act
[role_definition]
g = _, _
g2 = _, _
[policy_effect]
e = some(where (p.eft == allow))
[matchers]
m = g2(r.obj, p.obj) && r.act == p.act && g(r.sub, p.sub) && open(r.sub, r.obj, r.act)
`;

export async function prepareCasbin(world: PeerWorld) {
  const enforcer = await newEnforcer(newModelFromString(MODEL));
  enforcer.enableLog(false);
  enforcer.enableAutoSave(false);
  await enforcer.addPolicies(world.grants.flatMap(({ to, place, abilities }) => abilities.map((it) => [to, place, it])).filter(distinct()));
  await enforcer.addGroupingPolicies([...world.principals].flatMap(([person, keys]) => keys.map((key) => [`person/${person}`, key])));
  await enforcer.addNamedGroupingPolicies(
    "g2",
    world.places.flatMap(({ id, scope }) => scope.filter((it) => it !== id).map((it) => [id, it])),
  );
  const fencesOf = new Map(world.places.map(({ id, path }) => [id, world.fences.filter(({ place }) => path.includes(place))]));
  const own = new Map([...world.principals].map(([person, keys]) => [`person/${person}`, new Set(keys)]));
  await enforcer.addFunction("open", (person: string, place: string, ability: string) =>
    (fencesOf.get(place) ?? []).every(
      ({ kind, admits }) =>
        (kind === "write" && (ability === "read" || ability === "discuss")) || admits.some((it) => own.get(person)?.has(it)),
    ),
  );
  return {
    name: "node-casbin 5",
    notes: "roles for people, a second role hierarchy for places (their scopes), fences as a matcher function; synchronous enforcement",
    decide: ({ person, place, ability }: Question): boolean => enforcer.enforceSync(`person/${person}`, place, ability),
  };
}

function distinct(): (rule: string[]) => boolean {
  const seen = new Set<string>();
  return (rule) => {
    const key = rule.join("|");
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  };
}
