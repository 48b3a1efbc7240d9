/** The ways in which somebody loses a right, as a site keeper takes it: between looking and doing, or before. */
import type { Edit } from "../../src/core/access/model/index.ts";
import type { LifeAct } from "../../src/core/lifecycle/index.ts";
import { changeOf, type Doer, lookThenDo } from "./act.ts";
import type { Actor, Stage } from "./stage.ts";
import { ids, placeIn, type World } from "./world.ts";

const past = () => new Date(Date.now() - 60_000).toISOString();

type Loss = (stage: Stage, world: World, who: Actor, page: string) => Promise<unknown>;

async function changePerson({ document, make }: Stage, who: Actor, change: object): Promise<unknown> {
  const remove = (await document()).people.find(({ id }) => id === who);
  return remove && make("ines", [{ kind: "person", person: who, remove, put: { ...remove, ...change } }], "Taken.");
}

const byKeeper = (stage: Stage): Doer => ({ stage, who: "ines", pause: async () => {} });
const act = (stage: Stage, act: LifeAct): Promise<unknown> => changeOf(byKeeper(stage), [], [act]);

export const LOSSES: Record<string, Loss> = {
  "what they were granted": async ({ document, make }, world, who) => {
    const now = await document();
    const grants = ids(world).flatMap((id) =>
      (placeIn(now, id)?.grants ?? [])
        .filter(({ to }) => "person" in to && to.person === who)
        .map((remove): Edit => ({ kind: "grant", place: id, remove })),
    );
    return grants.length > 0 && make("ines", grants, "Taken.");
  },
  "being active": (stage, _, who) => changePerson(stage, who, { status: "suspended" }),
  "their time": (stage, _, who) => changePerson(stage, who, { until: past() }),
  "their place, by an import": async (stage, _, who) => {
    const now = await stage.document();
    const people = now.people.map((it) => (it.id === who ? { ...it, status: "suspended" } : it));
    return lookThenDo(byKeeper(stage), "document/plan", "document/apply", { document: { ...now, people } });
  },
  "the page, behind a fence": ({ make }, _, __, page) =>
    make("ines", [{ kind: "fence", place: page, put: { kind: "read", admits: [{ person: "ines" }] } }], "Taken."),
  "the page, into the other space": (stage, { other }, _, page) => act(stage, { act: "move", places: [page], to: other, below: "along" }),
  "the page, into the bin": (stage, _, __, page) => act(stage, { act: "bin", places: [page], below: "along" }),
  "the space, into the archive": (stage, { own }) => act(stage, { act: "archive", places: [own] }),
  "owning it": async ({ document, make }, _, who, page) =>
    placeIn(await document(), page)?.owner === who && make("ines", [{ kind: "owner", place: page, from: who, to: "ines" }], "Taken."),
};
