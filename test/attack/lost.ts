/** Every write of the application, by people whose right to it was taken away: refused like that of somebody who never had it. */
import type { Edit, Person } from "../../src/core/access/model/index.ts";
import { TRIES, type Try } from "../system/tries.ts";
import type { Stage } from "./stage.ts";

/** In what order what was lost is tried, and as whom they are answered then. */
interface Lost {
  who: "maren" | "mei" | "dora";
  what: string;
  /** Takes it away; returns how it is given back. */
  take(stage: Stage): Promise<() => Promise<unknown>>;
  /** Which are tried, and with which statuses each may be answered. */
  expects(it: Try): readonly number[] | null;
}

const past = () => new Date(Date.now() - 60_000).toISOString();

async function made(work: Promise<{ status: number; text: string }>): Promise<number> {
  const { status, text } = await work;
  if (status !== 200) throw new Error(`A right could not be taken away: ${status} ${text.slice(0, 300)}`);
  return JSON.parse(text).seq;
}

const byPerson = (who: Lost["who"], change: Partial<Person>) => async (stage: Stage) => {
  const remove = (await stage.document()).people.find(({ id }) => id === who) as Person;
  const seq = await made(stage.make("ines", [{ kind: "person", person: who, remove, put: { ...remove, ...change } }], "Taken."));
  return async () => {
    await made(stage.takeBack("ines", seq, "Given back."));
    await stage.signIn(who);
  };
};

/** All that names somebody in rules and groups, and all that they own. */
async function takeEverything(stage: Stage): Promise<() => Promise<unknown>> {
  const { groups, places: all } = await stage.document();
  // Of the demo: what sequences made is not tried here.
  const places = all.filter(({ id }) => stage.first.places.some((it) => it.id === id));
  const edits = [
    ...places.flatMap(({ id, grants }) =>
      grants.filter(({ to }) => "person" in to && to.person === "maren").map((remove): Edit => ({ kind: "grant", place: id, remove })),
    ),
    ...groups.flatMap(({ id, members }) =>
      members.filter((it) => "person" in it && it.person === "maren").map((remove): Edit => ({ kind: "member", group: id, remove })),
    ),
  ];
  const owned = places.filter(({ owner }) => owner === "maren");
  const owners = owned.map(({ id }): Edit => ({ kind: "owner", place: id, from: "maren", to: "ines" }));
  const handedOver = await made(stage.make("maren", owners));
  const seq = await made(stage.make("ines", edits, "Taken."));
  return async () => {
    await made(stage.takeBack("ines", seq, "Given back."));
    await made(stage.takeBack("maren", handedOver));
  };
}

const refusals = [403, 404];
const likeThePublic = (who: Lost["who"]) => (it: Try) => (it[who] === it.public ? null : [it.public]);

const LOSSES: readonly Lost[] = [
  {
    who: "maren",
    what: "every rule, group and page",
    take: takeEverything,
    expects: (it) => (it.method !== "GET" && it.maren === 200 && refusals.includes(it.mei) ? refusals : null),
  },
  { who: "maren", what: "being active", take: byPerson("maren", { status: "suspended" }), expects: likeThePublic("maren") },
  { who: "mei", what: "their time", take: byPerson("mei", { until: past() }), expects: likeThePublic("mei") },
  { who: "dora", what: "their time", take: byPerson("dora", { until: past() }), expects: likeThePublic("dora") },
];

/** What was answered otherwise than it should be: nothing, if all is well. */
export async function writesAfterLoss(stage: Stage): Promise<string[]> {
  const wrong: string[] = [];
  for (const { who, what, take, expects } of LOSSES) {
    const giveBack = await take(stage);
    for (const it of TRIES.filter(({ path }) => !path.includes("TAKEN"))) {
      const expected = expects(it);
      if (!expected) continue;
      const { status, text } = await stage.ask(who, it.method, it.path, it.body);
      if (!expected.includes(status))
        wrong.push(
          `${who} without ${what}: ${it.method} ${it.path} is answered ${status}, not ${expected.join(" or ")}: ${text.slice(0, 160)}`,
        );
    }
    await giveBack();
  }
  return wrong;
}
