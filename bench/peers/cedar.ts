/** Cedar's WASM build: grants as permits, fences as forbids, policies parsed beforehand, the entities of each question sent along. */
import { createRequire } from "node:module";
import type { PeerWorld, Question } from "../questions.ts";

const cedar = createRequire(import.meta.url)("@cedar-policy/cedar-wasm/nodejs") as typeof import("@cedar-policy/cedar-wasm/nodejs");

const BEYOND_READING =
  '[Action::"revise", Action::"add", Action::"publish", Action::"arrange", Action::"retire", Action::"admit", Action::"govern"]';

export function prepareCedar(world: PeerWorld) {
  const actions = (list: readonly string[]) => `[${list.map((it) => `Action::"${it}"`).join(", ")}]`;
  const permits = world.grants.map(
    ({ to, place, abilities }) => `permit(principal in Role::"${to}", action in ${actions(abilities)}, resource in Scope::"${place}");`,
  );
  const forbids = world.fences.map(({ kind, place, admits }) => {
    const unless = admits.map((it) => `principal in Role::"${it}"`).join(" || ") || "false";
    const stopped = kind === "read" ? "action" : `action in ${BEYOND_READING}`;
    return `forbid(principal, ${stopped}, resource in Path::"${place}") unless { ${unless} };`;
  });
  const parsed = cedar.preparsePolicySet("world", { staticPolicies: [...permits, ...forbids].join("\n") });
  if (parsed.type !== "success") throw new Error(JSON.stringify(parsed));
  const entity = (type: string, id: string, parents: { type: string; id: string }[]) => ({ uid: { type, id }, attrs: {}, parents });
  const placeEntities = new Map(
    world.places.map(({ id, scope, path }) => {
      const above = [...scope.map((it) => ({ type: "Scope", id: it })), ...path.map((it) => ({ type: "Path", id: it }))];
      return [id, entity("Place", id, above)];
    }),
  );
  const personEntities = new Map(
    [...world.principals].map(([id, keys]) => [
      id,
      entity(
        "Person",
        id,
        keys.map((key) => ({ type: "Role", id: key })),
      ),
    ]),
  );
  return {
    name: "Cedar 4 (WASM)",
    notes: "policies parsed beforehand (stateful call); with each question only the two entities it needs, their ancestors flattened",
    decide: ({ person, place, ability }: Question): boolean => {
      const answer = cedar.statefulIsAuthorized({
        principal: { type: "Person", id: person },
        action: { type: "Action", id: ability },
        resource: { type: "Place", id: place },
        context: {},
        preparsedPolicySetId: "world",
        entities: [personEntities.get(person), placeEntities.get(place)] as never,
      });
      if (answer.type !== "success") throw new Error(JSON.stringify(answer));
      return answer.response.decision === "allow";
    },
  };
}
