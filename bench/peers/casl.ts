/** CASL: one ability object a person, built from the grants and fences that concern them and kept between questions. */
import { createMongoAbility, type MongoAbility, subject } from "@casl/ability";
import type { PeerWorld, Question } from "../questions.ts";

const BEYOND_READING = ["revise", "add", "publish", "arrange", "retire", "admit", "govern"];

export function prepareCasl(world: PeerWorld) {
  const fencesAt = new Map<string, number[]>();
  for (const [number, { place }] of world.fences.entries()) fencesAt.set(place, [...(fencesAt.get(place) ?? []), number]);
  const things = new Map(
    world.places.map(({ id, scope, path }) => {
      const numbers = path.flatMap((it) => fencesAt.get(it) ?? []);
      const of = (kind: "read" | "write") => numbers.filter((number) => world.fences[number]?.kind === kind);
      return [id, subject("Place", { scope, read: of("read"), write: of("write") })];
    }),
  );
  const abilities = new Map<string, MongoAbility>();
  const build = (person: string): MongoAbility => {
    const own = new Set(world.principals.get(person));
    const grants = world.grants.filter(({ to }) => own.has(to));
    const granted = new Map<string, string[]>();
    for (const { place, abilities: given } of grants) for (const it of given) granted.set(it, [...(granted.get(it) ?? []), place]);
    const admitting = world.fences.flatMap(({ admits }, number) => (admits.some((it) => own.has(it)) ? [number] : []));
    const outside = { $elemMatch: { $nin: admitting } };
    return createMongoAbility([
      ...[...granted].map(([action, places]) => ({ action, subject: "Place", conditions: { scope: { $in: places } } })),
      { action: ["read", "discuss", ...BEYOND_READING], subject: "Place", conditions: { read: outside }, inverted: true },
      { action: BEYOND_READING, subject: "Place", conditions: { write: outside }, inverted: true },
    ]);
  };
  const decide = ({ person, place, ability }: Question): boolean => {
    let known = abilities.get(person);
    if (!known) {
      known = build(person);
      abilities.set(person, known);
    }
    return known.can(ability, things.get(place) as never);
  };
  return {
    name: "CASL 7",
    notes: "one ability object a person, built when first asked and kept; scopes worked out beforehand, fences as inverted rules",
    decide,
  };
}
