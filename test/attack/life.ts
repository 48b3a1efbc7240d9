/** Acts of a page's life and of its rules: moving, archiving, the bin; grants, fences, owners, passes; taking back; jobs and imports. */
import type { Ability, AccessDocument, Edit, Person } from "../../src/core/access/model/index.ts";
import type { LifeAct } from "../../src/core/lifecycle/index.ts";
import type { Answer } from "../system/doors.ts";
import { type Act, change, type Doing, has, keepsSite, lookThenDo, noted, oversees, owns, setOf, settled } from "./act.ts";
import { placeIn } from "./world.ts";

const GIVEN: Ability[][] = [
  ["read"],
  ["read", "discuss", "revise"],
  ["read", "discuss", "revise", "add", "publish", "arrange", "retire"],
  ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit"],
  ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"],
];

const ruled = (who: Doing["who"], document: AccessDocument, id: string): boolean =>
  has(document, who, id, "admit") || oversees(document, who, id);
const rules: Act["may"] = ({ who, page }, document) => ruled(who, document, page);
const siteKeepers: Act["may"] = ({ who }, document) => keepsSite(document, who);
const retires = ({ who, page }: Doing, document: AccessDocument): boolean => {
  const place = placeIn(document, page);
  const ownDraft = owns(document, who, page) && (place?.state === "draft" || place?.state === "scheduled" || place?.was === "draft");
  return has(document, who, page, "retire") || oversees(document, who, page) || ownDraft;
};

const act = (name: LifeAct["act"], may: Act["may"], more: (it: Doing) => Partial<LifeAct> = () => ({})): Act => ({
  do: (it) => change(it, [], [{ act: name, places: [it.page], below: it.way % 2 === 0 ? "along" : "handUp", ...more(it) } as LifeAct]),
  may,
});

/** Where something is moved or restored to. */
const target = ({ world, way }: Doing): string => [world.other, world.own, world.live, world.elsewhere][way % 4] ?? world.other;

async function handOver(it: Doing): Promise<Answer> {
  const from = placeIn(await it.stage.document(), it.page)?.owner ?? null;
  return change(it, [{ kind: "owner", place: it.page, from, to: it.other === "public" ? null : it.other }]);
}

/** Takes away the first grant of a page or its space that names a person. */
async function takeGrantAway(it: Doing): Promise<Answer> {
  const document = await it.stage.document();
  const place = it.way % 2 === 0 ? it.page : it.world.own;
  const remove = placeIn(document, place)?.grants.find(({ to }) => "person" in to);
  return change(it, [{ kind: "grant", place, remove: remove ?? { to: { person: "mei" }, abilities: ["read"] } }]);
}

/** An import of the document in which something is otherwise. */
async function bring(it: Doing): Promise<Answer> {
  const { page, other, way, world } = it;
  const document = await it.stage.document();
  const places = document.places.map((place) => {
    if (place.id !== page) return place;
    if (way % 4 === 0) return { ...place, parent: place.parent === world.other ? world.own : world.other };
    if (way % 4 === 1) return { ...place, state: place.state === "live" ? "draft" : "live" };
    if (way % 4 === 2) return { ...place, grants: [...place.grants, { to: { person: other }, abilities: GIVEN[way % 5] }] };
    return { ...place, owner: other };
  });
  return noted(it, await lookThenDo(it, "document/plan", "document/apply", { document: { ...document, places } }));
}

async function takeBack(it: Doing): Promise<Answer> {
  const seq = it.world.entries.at(-1 - (it.way % Math.max(1, it.world.entries.length))) ?? 999_999_999;
  const looked = await it.stage.ask(it.who, "GET", `ledger/${seq}`);
  if (looked.status !== 200) return looked;
  await it.pause();
  const { seen } = JSON.parse(looked.text);
  return noted(it, await it.stage.ask(it.who, "POST", `ledger/${seq}`, { note: "", seen, reason: "An attack." }));
}

async function job(it: Doing): Promise<Answer> {
  const acts = ["archive", "bin", "tag", "move"] as const;
  const name = acts[it.way % 4] ?? "archive";
  const more = name === "tag" ? { add: ["x"] } : name === "move" ? { to: it.world.other } : { below: "handUp" };
  const order = { act: name, places: [it.page], ...more };
  const ordered = await lookThenDo(it, "jobs/look", "jobs", { order }, { count: 1 });
  if (ordered.status !== 200) return ordered;
  const { id } = JSON.parse(ordered.text);
  for (let tries = 0; tries < 100; tries++) {
    const told = await it.stage.ask(it.who, "GET", `jobs/${id}`);
    const view = told.status === 200 ? JSON.parse(told.text) : {};
    if (view.state !== "waiting" && view.state !== "running") {
      it.world.entries.push(...(view.entries ?? []));
      // A job that skipped its page did nothing.
      return view.skipped > 0 ? { status: 403, text: "" } : ordered;
    }
    await new Promise((later) => setTimeout(later, 50));
  }
  throw new Error(`The job ${id} did not end.`);
}

const changedPerson = async (it: Doing, put: (person: Person) => Person): Promise<Answer> => {
  const person = (await it.stage.document()).people.find(({ id }) => id === it.other);
  const remove: Person = person ?? { id: "nobody", name: "x", kind: "guest", status: "active" };
  return change(it, [{ kind: "person", person: remove.id, remove, put: put(remove) }]);
};

export const LIFE: Record<string, Act> = {
  move: act(
    "move",
    (it, document) => {
      const parent = placeIn(document, it.page)?.parent;
      return has(document, it.who, it.page, "arrange") && (parent === target(it) || has(document, it.who, target(it), "add"));
    },
    (it) => ({ to: target(it), ...(it.way % 3 === 0 ? {} : { arrive: it.way % 3 === 1 ? "draft" : "submit" }) }),
  ),
  archive: act("archive", retires),
  unarchive: act("unarchive", retires),
  bin: act("bin", retires),
  restore: act("restore", retires, (it) => (it.way % 2 === 0 ? {} : { to: target(it) })),
  "take down": act("takeDown", ({ who, page }, document) => has(document, who, page, "publish")),
  erase: act(
    "erase",
    (it, document) => oversees(document, it.who, it.world.own) || oversees(document, it.who, it.world.other),
    () => ({ pages: 1 }),
  ),
  "archive the space": {
    do: (it) => change(it, [], [{ act: it.way % 2 === 0 ? "archive" : "unarchive", places: [it.world.own] } as LifeAct]),
    may: ({ who, world }, document) => oversees(document, who, world.own),
  },
  grant: {
    do: (it) => {
      const to = it.other === "public" ? { audience: "public" as const } : { person: it.other };
      const draft = it.way % 7 === 0 ? { draft: true } : {};
      return change(it, [{ kind: "grant", place: it.page, put: { to, abilities: GIVEN[it.way % 5] ?? ["read"], ...draft } }]);
    },
    may: (it, document) => ruled(it.who, document, it.page) || (it.way % 7 === 0 && owns(document, it.who, it.page)),
  },
  "take a grant away": {
    do: takeGrantAway,
    may: (it, document) => ruled(it.who, document, it.way % 2 === 0 ? it.page : it.world.own),
  },
  fence: {
    do: (it) => {
      const put = {
        kind: it.way % 2 === 0 ? ("read" as const) : ("write" as const),
        admits: [{ person: it.other === "public" ? "mei" : it.other }],
      };
      return change(it, [{ kind: "fence", place: it.page, put }]);
    },
    may: rules,
  },
  "take a fence away": {
    do: async (it) => {
      const remove = placeIn(await it.stage.document(), it.page)?.fences[0] ?? { kind: "read" as const, admits: [] };
      return change(it, [{ kind: "fence", place: it.page, remove }]);
    },
    may: rules,
  },
  "start fresh": {
    do: async (it) => {
      const from = placeIn(await it.stage.document(), it.page)?.stance ?? "follow";
      return change(it, [{ kind: "stance", place: it.page, from, to: from === "follow" ? "fresh" : "follow" }]);
    },
    may: rules,
  },
  ceilings: {
    do: async (it) => {
      const from = placeIn(await it.stage.document(), it.world.own)?.ceilings ?? null;
      return change(it, [{ kind: "ceilings", place: it.world.own, from, to: from ? null : { outsiders: [], guests: ["read"] } }]);
    },
    may: ({ who, world }, document) => oversees(document, who, world.own),
  },
  "hand over": {
    do: handOver,
    may: (it, document) => has(document, it.who, it.page, "admit") || owns(document, it.who, it.page),
  },
  "bare state": {
    do: async (it) => {
      const place = placeIn(await it.stage.document(), it.page);
      const from = { state: place?.state ?? "live", ...(place?.was ? { was: place.was } : {}) };
      const to = it.way % 2 === 0 ? { state: "live" as const } : { state: "archived" as const, was: "live" as const };
      return change(it, [{ kind: "state", place: it.page, from, to } as Edit]);
    },
    may: (it, document) => setOf(document, it.who, it.page).length > 0 || oversees(document, it.who, it.page),
  },
  pass: {
    do: (it) => lookThenDo(it, "passes/look", "passes", { place: it.page, below: it.way % 2 === 0, until: null }, { name: "An attack" }),
    may: rules,
  },
  order: {
    do: async (it) => {
      await it.pause();
      return noted(it, await it.stage.ask(it.who, "POST", "order", { place: it.page, after: null }));
    },
    may: ({ who, page }, document) => has(document, who, page, "arrange"),
  },
  "take back": { do: takeBack, may: () => null },
  job: {
    do: job,
    may: (it, document) =>
      it.way % 4 === 2 ? has(document, it.who, it.page, "revise") : retires(it, document) || has(document, it.who, it.page, "arrange"),
  },
  import: { do: bring, may: siteKeepers },
  suspend: {
    do: (it) => changedPerson(it, (person) => ({ ...person, status: person.status === "active" ? "suspended" : "active" })),
    may: siteKeepers,
  },
  "take an end off": {
    do: async (it) => {
      const answer = await changedPerson(it, ({ until: _, ...person }) => person);
      if (answer.status === 200 && it.who === "ines") it.world.endless.add(it.other);
      return answer;
    },
    may: siteKeepers,
  },
  "make a member": { do: (it) => changedPerson(it, (person) => ({ ...person, kind: "member" })), may: siteKeepers },
  "join a group": {
    do: (it) => change(it, [{ kind: "member", group: "pilots", put: { person: it.other === "public" ? "mei" : it.other } }]),
    may: (it, document) => keepsSite(document, it.who),
  },
  "see somebody off": {
    do: (it) =>
      lookThenDo(it, `people/${it.other}/leaving/look`, `people/${it.other}/leaving`, {
        to: it.way % 2 === 0 ? "ines" : null,
        lines: [],
        until: null,
      }),
    may: siteKeepers,
  },
  flag: {
    do: async (it) => {
      await it.pause();
      return settled(it, await it.stage.ask(it.who, "POST", "flags", { places: [it.page], kind: "doubtful", note: "x" }));
    },
    may: ({ who, page }, document) => has(document, who, page, "read"),
  },
  confirm: {
    do: async (it) => {
      await it.pause();
      const rows = [{ place: it.page, flags: [], due: false }];
      return settled(it, await it.stage.ask(it.who, "POST", "review/settle", { rows, outcome: "confirmed", reason: "" }));
    },
    may: ({ who, page }, document) => has(document, who, page, "revise") || owns(document, who, page),
  },
  "step in": {
    do: async (it) => {
      await it.pause();
      return it.stage.ask(it.who, "POST", `places/${it.page}/step-in`, { reason: "An attack." });
    },
    may: ({ who, page }, document) => oversees(document, who, page),
  },
};
