/**
 * What holds after whatever was done, in one place. Each tells what is not so, or null. The rules themselves are read past
 * the application and judged by the reference; what the application tells and does is asked over HTTP.
 */
import { sql } from "drizzle-orm";
import type { AccessDocument } from "../../src/core/access/model/index.ts";
import { database, inSnapshot } from "../../src/server/db/client.ts";
import { verifyLedger } from "../../src/server/ledger/chain.ts";
import { type Doing, has, knows, oversees, setOf } from "./act.ts";
import { wordsShown } from "./shown.ts";
import { type Actor, CAST, now, type Stage } from "./stage.ts";
import { endlessGuests, ids, placeIn, spaceIn, type World } from "./world.ts";

/** Spaces that ask for approval now. */
export async function spacesThatAsk(): Promise<Set<string>> {
  const rows = await database().execute<{ id: string }>(sql`select place_id as id from spaces where approval`);
  return new Set(rows.map(({ id }) => id));
}

type Invariant = (stage: Stage, world: World, document: AccessDocument) => Promise<string | null>;

const nothingLiveUnapproved: Invariant = async (_, world, document) => {
  const asking = await spacesThatAsk();
  for (const [page, word] of await wordsShown()) {
    const space = spaceIn(document, page);
    const isShown = placeIn(document, page)?.state === "live" && space?.state === "live";
    const isOurs = space?.id === world.own || space?.id === world.other;
    if (isShown && isOurs && asking.has(space?.id ?? "") && !world.passed.has(`${page} ${word}`))
      return `${page} shows "${word}", which nobody approved, in a space that asks for it`;
  }
  return null;
};

const READERS: readonly Actor[] = ["public", "dora", "mei", "viktor"];

const nobodyReadsWithoutARule: Invariant = async (stage, world, document) => {
  const shown = await wordsShown();
  const wrong = async (who: Actor, page: string): Promise<string | null> => {
    for (const { status, text } of [await stage.page(who, `/read/x/y-${page}`), await stage.ask(who, "GET", `pages/${page}`)]) {
      if (status >= 500) return `${who} is answered ${status} about ${page}`;
      const words = text.match(/word[0-9a-f]{12}/g) ?? [];
      const needs = words.some((word) => shown.get(page) !== word) ? "revise" : "read";
      if (words.length > 0 && !has(document, who, page, needs)) return `${who} is told ${words[0]} of ${page}, and lacks ${needs}`;
    }
    return null;
  };
  const pages = [world.draft, world.live, world.below, world.elsewhere];
  const all = await stage.waits.apart(() => Promise.all(READERS.flatMap((who) => pages.map((page) => wrong(who, page)))));
  return all.find((it) => it !== null) ?? null;
};

const ELSE = "zzzzzzzzzz";
/** Ways to ask about a page by its id. */
const WAYS: ((id: string) => [method: string, path: string, body?: unknown])[] = [
  (id) => ["GET", `places/${id}`],
  (id) => ["GET", `pages/${id}`],
  (id) => ["GET", `pages/${id}/versions`],
  (id) => ["GET", `why?place=${id}&viewpoint=public`],
  (id) => ["POST", "preview", { edits: [{ kind: "grant", place: id, put: { to: { person: "mei" }, abilities: ["read"] } }], columns: [] }],
  (id) => ["POST", "preview", { edits: [], acts: [{ act: "bin", places: [id] }], columns: [] }],
  (id) => ["POST", "preview", { edits: [], acts: [{ act: "move", places: ["cranes"], to: id }], columns: [] }],
  (id) => ["POST", `pages/${id}/copy`, { to: "quays", below: false }],
  (id) => ["POST", "pages", { parent: id, as: "page", title: " x" }],
  (id) => ["POST", "flags", { places: [id], kind: "doubtful", note: "x" }],
  (id) => ["POST", `pages/${id}/approval`, { act: "submit", version: "99.9", note: "" }],
  (id) => ["POST", `pages/${id}/pen`, { act: "ask" }],
  (id) => ["POST", "workbench", { copy: id }],
  (id) => ["POST", "jobs/look", { order: { act: "archive", places: [id] } }],
  (id) => ["POST", "passes/look", { place: id, below: false, until: null }],
];

const hiddenIsMissing: Invariant = async (stage, world, document) => {
  for (const who of READERS)
    for (const page of ids(world).filter((id) => !knows(document, who, id))) {
      const way = WAYS[world.turn++ % WAYS.length];
      if (!way) continue;
      const [hidden, missing] = [await stage.ask(who, ...way(page)), await stage.ask(who, ...way(ELSE))];
      if (hidden.status !== missing.status || hidden.text.replaceAll(page, ELSE) !== missing.text)
        return `${who} learns that ${page} is there: ${JSON.stringify(way(page))} is answered ${hidden.status} ${hidden.text}, of nothing ${missing.status} ${missing.text}`;
    }
  return null;
};

const noEndlessGuest: Invariant = async (_, { endless }, document) => {
  const found = endlessGuests(document).find((id) => !endless.has(id));
  return found ? `${found} is a guest without an end, which no site keeper took off` : null;
};

/** What is kept of somebody or something, and how many at most. */
const COUNTED: [what: string, most: number, query: ReturnType<typeof sql>][] = [
  ["tabs on a page", 30, sql`select max(n) as n from (select count(*) as n from buffers group by place_id, person_id) t`],
  ["drafts on a workbench", 500, sql`select max(n) as n from (select count(*) as n from bench_drafts group by owner_id) t`],
  ["named filters", 60, sql`select max(n) as n from (select count(*) as n from saved_filters group by person_id) t`],
  ["open requests", 20, sql`select max(n) as n from (select count(*) as n from asked where state = 'open' group by person_id) t`],
];

const countsAreWithinBounds: Invariant = async () => {
  for (const [what, most, query] of COUNTED) {
    const [row] = await database().execute<{ n: number | null }>(query);
    if (Number(row?.n ?? 0) > most) return `${row?.n} ${what}, of ${most} at most`;
  }
  return null;
};

const whoIsOutIsOut: Invariant = async ({ ask }, _, document) => {
  for (const who of CAST) {
    const person = document.people.find(({ id }) => id === who);
    const isOut = person && (person.status === "suspended" || (person.until && Date.parse(person.until) <= now()));
    if (!isOut) continue;
    const { status } = await ask(who, "GET", "desk/count");
    if (status !== 401) return `${who} is suspended or their time is over, and is answered ${status}`;
  }
  return null;
};

const chainHolds: Invariant = async (_, { entries, turn }) => {
  // The whole chain is read each time: every so many sequences, and where much was written.
  if (entries.length < 2 && turn % 8 !== 0) return null;
  const { breaks } = await inSnapshot(verifyLedger);
  return breaks.length > 0 ? `the ledger's chain breaks: ${JSON.stringify(breaks)}` : null;
};

export const INVARIANTS: Record<string, Invariant> = {
  "nothing live unapproved": nothingLiveUnapproved,
  "nobody reads without a rule": nobodyReadsWithoutARule,
  "hidden is as missing": hiddenIsMissing,
  "no endless guest": noEndlessGuest,
  "counts within bounds": countsAreWithinBounds,
  "who is out is out": whoIsOutIsOut,
  "the chain holds": chainHolds,
};

/** Nobody gives what they lack: what anybody has more of after an act, its maker had there, or oversees the place. */
export function givenBeyond({ world, who }: Pick<Doing, "world" | "who">, before: AccessDocument, after: AccessDocument): string | null {
  const stateOf = (document: AccessDocument, id: string) => `${placeIn(document, id)?.state} ${spaceIn(document, id)?.state}`;
  for (const id of ids(world)) {
    // What becomes readable by a page's life is judged by who may do that.
    if (stateOf(before, id) !== stateOf(after, id) || oversees(before, who, id)) continue;
    const held = setOf(before, who, id);
    for (const other of CAST) {
      const had = setOf(before, other, id);
      const gained = setOf(after, other, id).filter((it) => !had.includes(it) && !held.includes(it));
      if (gained.length > 0) return `${who} gave ${other} ${gained.join(", ")} at ${id}, and had ${held.join(", ") || "nothing"} there`;
    }
  }
  return null;
}
