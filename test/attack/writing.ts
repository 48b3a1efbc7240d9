/** Acts of writing and publishing: words, approval, publication, workbench, copies, times. */
import type { Edit } from "../../src/core/access/model/index.ts";
import { publication } from "../publication.ts";
import type { Answer } from "../system/doors.ts";
import { type Act, change, type Doing, has, keepsSite, lookThenDo, oversees, owns, spaceIdIn } from "./act.ts";
import { askForApproval, newWord, placeIn, textOf, type World } from "./world.ts";

interface Working {
  version: string;
  word: string;
}

/** The newest version somebody gets to see of a page or draft, and the word that stands in it. */
async function workingOf({ stage, who }: Doing, path: string): Promise<Working | Answer> {
  const answer = await stage.ask(who, "GET", path);
  if (answer.status !== 200) return answer;
  const { version } = JSON.parse(answer.text);
  return { version, word: /word[0-9a-f]{12}/.exec(JSON.stringify(JSON.parse(answer.text).body))?.[0] ?? "" };
}
const isAnswer = (it: Working | Answer): it is Answer => "status" in it;

/** Notes what was approved, with its words as they were when it was. */
const pass = (world: World, page: string, word: string) => void world.passed.add(`${page} ${word}`);

async function answerApproval(it: Doing, act: "submit" | "approve" | "sendBack" | "withdraw"): Promise<Answer> {
  const working = await workingOf(it, `pages/${it.page}`);
  if (isAnswer(working)) return working;
  await it.pause();
  const answer = await it.stage.ask(it.who, "POST", `pages/${it.page}/approval`, { act, version: working.version, note: "x" });
  // Whoever wrote a word cannot be the one who passes it.
  if (act === "approve" && answer.status === 200 && it.world.wrote.get(`${it.page} ${working.word}`) !== it.who)
    pass(it.world, it.page, working.word);
  return answer;
}

async function publish(it: Doing, otherwise: Parameters<typeof publication>[1]): Promise<Answer> {
  const working = await workingOf(it, `pages/${it.page}`);
  if (isAnswer(working)) return working;
  const before = await it.stage.document();
  const order = publication(working.version, otherwise);
  const answer = await lookThenDo(it, `pages/${it.page}/publish/look`, `pages/${it.page}/publish`, order);
  // A site keeper may publish what nobody else could approve, with a reason; that nobody could is asked by other tests.
  if (answer.status === 200 && keepsSite(before, it.who)) pass(it.world, it.page, working.word);
  return answer;
}

const mayPublishAt = (it: Doing, document: Parameters<Act["may"]>[1], to?: string): boolean => {
  const place = placeIn(document, it.page);
  const there = to ?? place?.parent ?? "";
  const unpublished = place?.state === "draft" || place?.state === "scheduled";
  const may =
    has(document, it.who, it.page, "publish") ||
    (unpublished && owns(document, it.who, it.page) && has(document, it.who, there, "publish"));
  return may && (to === undefined || has(document, it.who, to, "add"));
};

/** Where a page that moves goes: into the other space, or back. */
const destination = ({ world, way }: Doing): string => [world.other, world.own, world.elsewhere, world.live][way % 4] ?? world.other;

/** A private draft: copied from a page, and placed. */
async function byWorkbench(it: Doing): Promise<Answer> {
  const { stage, who, page, way } = it;
  const begun = await stage.ask(who, "POST", "workbench", { copy: page });
  if (begun.status !== 200) return begun;
  const { id } = JSON.parse(begun.text);
  const written = newWord();
  const saved = await stage.ask(who, "POST", `workbench/${id}`, {
    title: "Copied",
    body: textOf(written),
    base: "0.1",
    note: "",
    spent: [],
  });
  if (saved.status !== 200) return saved;
  const { version } = JSON.parse(saved.text);
  const order = publication(version, { what: (["place", "live", "submit"] as const)[way % 3] ?? "place", to: destination(it), as: "page" });
  const before = await stage.document();
  const answer = await lookThenDo(it, `workbench/${id}/publish/look`, `workbench/${id}/publish`, order);
  if (answer.status === 200) {
    const made = JSON.parse(answer.text).page;
    it.world.wrote.set(`${made} ${written}`, who);
    if (keepsSite(before, who)) pass(it.world, made, written);
  }
  return answer;
}

async function schedule(it: Doing, what: "live" | "archive"): Promise<Answer> {
  const working = await workingOf(it, `pages/${it.page}`);
  if (isAnswer(working)) return working;
  await it.pause();
  const at = Date.now() + 1_200;
  const body = {
    what,
    at: new Date(at).toISOString(),
    zone: "UTC",
    note: "",
    version: working.version,
    keepHelpers: false,
    below: "handUp",
  };
  const answer = await it.stage.ask(it.who, "POST", `pages/${it.page}/schedule`, body);
  if (answer.status === 200) it.world.due.push(at);
  return answer;
}

async function save(it: Doing): Promise<Answer> {
  const working = await workingOf(it, `pages/${it.page}`);
  if (isAnswer(working)) return working;
  const word = newWord();
  await it.pause();
  const body = { title: `Page ${word.slice(4, 9)}`, body: textOf(word), base: working.version, note: "", spent: [] };
  const answer = await it.stage.ask(it.who, "POST", `pages/${it.page}`, body);
  if (answer.status === 200) it.world.wrote.set(`${it.page} ${word}`, it.who);
  return answer;
}

const revises: Act["may"] = ({ who, page }, document) => has(document, who, page, "revise");

export const WRITING: Record<string, Act> = {
  save: { do: save, may: revises },
  "keep typed words": {
    do: async (it) => {
      await it.pause();
      const body = { title: "x", body: textOf("typed"), base: "0.1", tab: `t${it.way}`, rev: 1, spent: [] };
      return it.stage.ask(it.who, "POST", `pages/${it.page}/buffer`, body);
    },
    may: revises,
  },
  "take up an old version": {
    do: async (it) => {
      const working = await workingOf(it, `pages/${it.page}`);
      if (isAnswer(working)) return working;
      await it.pause();
      return it.stage.ask(it.who, "POST", `pages/${it.page}/versions/0.1`, { base: working.version, note: "" });
    },
    may: revises,
  },
  "give in": { do: (it) => answerApproval(it, "submit"), may: revises },
  approve: { do: (it) => answerApproval(it, "approve"), may: ({ who, page }, document) => has(document, who, page, "publish") },
  "send back": { do: (it) => answerApproval(it, "sendBack"), may: ({ who, page }, document) => has(document, who, page, "publish") },
  publish: { do: (it) => publish(it, {}), may: (it, document) => mayPublishAt(it, document) },
  "publish elsewhere": {
    do: (it) => publish(it, { to: destination(it) }),
    may: (it, document) => mayPublishAt(it, document, placeIn(document, it.page)?.parent === destination(it) ? undefined : destination(it)),
  },
  "publish from the workbench": {
    do: byWorkbench,
    // What was read before the right to read it was lost is their own words by then.
    may: (it, document) => has(document, it.who, destination(it), "add"),
  },
  "go live at a time": { do: (it) => schedule(it, "live"), may: (it, document) => mayPublishAt(it, document) },
  "archive at a time": {
    do: (it) => schedule(it, "archive"),
    may: (it, document) => has(document, it.who, it.page, "retire") || oversees(document, it.who, it.page) || mayPublishAt(it, document),
  },
  copy: {
    do: async (it) => {
      await it.pause();
      return it.stage.ask(it.who, "POST", `pages/${it.page}/copy`, { to: destination(it), below: it.way % 2 === 0 });
    },
    may: (it, document) => has(document, it.who, it.page, "read") && has(document, it.who, destination(it), "add"),
  },
  "ask for approval": {
    do: async (it) => {
      const { stage, who, world, way } = it;
      const space = way % 3 === 0 ? world.other : world.own;
      await it.pause();
      return askForApproval(stage, who, space, way % 2 === 0);
    },
    may: ({ who, world, way }, document) => oversees(document, who, way % 3 === 0 ? world.other : world.own),
  },
  tag: {
    do: async (it) => {
      const tags = placeIn(await it.stage.document(), it.page)?.tags ?? [];
      const edit: Edit = { kind: "tags", place: it.page, from: tags, to: [...tags, `t${it.way}`] };
      return change(it, [edit]);
    },
    may: revises,
  },
  "use a template made of it": {
    do: async (it) => {
      const { stage, who, page, world } = it;
      const space = spaceIdIn(await stage.document(), page);
      await it.pause();
      const made = await stage.ask(who, "POST", "templates", { in: space, from: page, name: newWord(), about: "", below: true });
      if (made.status !== 200) return made;
      const { id } = JSON.parse(made.text);
      await stage.ask(who, "POST", "pages", { parent: world.own, as: "page", title: "Of a template", template: id });
      return made;
    },
    may: ({ who, page }, document) => oversees(document, who, spaceIdIn(document, page)),
  },
};
