/** What one sequence of acts is about: two spaces of its own with pages of both, and a record of what was written, approved, asked in. */
import { randomBytes } from "node:crypto";
import type { AccessDocument, Edit, Place } from "../../src/core/access/model/index.ts";
import { type Answer, answered, writeLivePage, writePage } from "../system/doors.ts";
import type { Stage } from "./stage.ts";

/** How a world begins. */
export interface Beginning {
  /** Whether the first space asks for approval. */
  asks: boolean;
  preset: "openHouse" | "commonRoom" | "closedRoom";
}

export interface Invited {
  person: string;
  link: string;
  by: string;
  /** Ids of people who were there before. */
  before: Set<string>;
  places: string[];
}

export interface World {
  own: string;
  other: string;
  /** A draft and a live page of the first space, with a page below it; a live page of the second. */
  draft: string;
  live: string;
  below: string;
  elsewhere: string;
  /** Who wrote which words of which page: "page word". */
  wrote: Map<string, string>;
  /** "page word": approved by somebody who may, or live before its space began to ask. */
  passed: Set<string>;
  /** Entries of the ledger that were made, and what was asked in. */
  entries: number[];
  invited: Invited[];
  /** Guests who had no end before, or whose end a site keeper took off. */
  endless: Set<string>;
  /** Instants something was scheduled for. */
  due: number[];
  /** Which of several ways a question is asked next: each world begins with another, the same whenever it is tried again. */
  turn: number;
}

export const ids = ({ own, other, draft, live, below, elsewhere }: World): string[] => [own, other, draft, live, below, elsewhere];

export const textOf = (word: string) => ({ schema: 1, content: [{ type: "paragraph", content: [{ type: "text", text: word }] }] });
export const newWord = (): string => `word${randomBytes(6).toString("hex")}`;
export const newAddress = (): string => `${randomBytes(6).toString("hex")}@there.invalid`;

async function startSpace({ ask }: Stage, title: string, preset: string, named: Record<"keepers" | "publishers" | "writers", string[]>) {
  const people = (list: string[]) => list.map((person) => ({ person }));
  const body = {
    title,
    preset,
    address: `s${randomBytes(6).toString("hex")}`,
    keepers: people(named.keepers),
    publishers: people(named.publishers),
    writers: people(named.writers),
  };
  const look = answered("A space", await ask("ines", "POST", "spaces/look", body));
  const order = { ...body, space: look.space, pages: look.pages, purpose: "", note: "", seen: look.preview.seen };
  answered("A space", await ask("ines", "POST", "spaces", order));
  return look.space as string;
}

async function startPage({ ask }: Stage, world: Pick<World, "wrote">, who: string, parent: string, live: boolean): Promise<string> {
  const word = newWord();
  const id = await (live ? writeLivePage : writePage)(ask, who, { parent, title: `Page ${word.slice(4, 9)}`, body: textOf(word) });
  world.wrote.set(`${id} ${word}`, who);
  return id;
}

export async function makeWorld(stage: Stage, { asks, preset }: Beginning, turn: number): Promise<World> {
  const wrote = new Map<string, string>();
  const record = {
    wrote,
    passed: new Set<string>(),
    entries: [],
    invited: [],
    endless: new Set(endlessGuests(await stage.document())),
    due: [],
    turn,
  };
  const own = await startSpace(stage, "Attacked", preset, { keepers: ["maren"], publishers: ["lena", "ines"], writers: ["mei"] });
  const other = await startSpace(stage, "Beside", preset, { keepers: ["viktor"], publishers: ["lena", "ines"], writers: ["mei"] });
  const live = await startPage(stage, record, "maren", own, true);
  const below = await startPage(stage, record, "maren", live, true);
  const draft = await startPage(stage, record, "mei", own, false);
  const elsewhere = await startPage(stage, record, "viktor", other, true);
  const world: World = { own, other, live, below, draft, elsewhere, ...record };
  const guest: Edit = { kind: "grant", place: live, put: { to: { person: "dora" }, abilities: ["read", "discuss"] } };
  answered("A guest", await stage.make("ines", [guest]));
  if (!asks) return world;
  answered("Asking for approval", await askForApproval(stage, "maren", own, true));
  // What is live in it by then stays what it shows; what is live beside it was never approved there.
  for (const key of wrote.keys()) if (key.startsWith(live) || key.startsWith(below)) world.passed.add(key);
  return world;
}

export const endlessGuests = ({ people }: AccessDocument): string[] =>
  people.filter(({ kind, until }) => kind === "guest" && !until).map(({ id }) => id);

export const placeIn = (document: AccessDocument, id: string): Place | undefined => document.places.find((it) => it.id === id);

/** The space of a place; the place itself where it is one. */
export function spaceIn(document: AccessDocument, id: string): Place | undefined {
  let place = placeIn(document, id);
  while (place && place.kind !== "space") place = place.parent ? placeIn(document, place.parent) : undefined;
  return place;
}

/** Makes a space ask for approval from now on, or no longer. */
export async function askForApproval(stage: Stage, who: string, space: string, approval: boolean): Promise<Answer> {
  const told = await stage.ask(who, "GET", `places/${space}`);
  const settings = told.status === 200 ? JSON.parse(told.text).life?.space?.settings : undefined;
  const remove = settings ?? { name: "x", address: "x", purpose: "" };
  const { approval: _, ...rest } = remove;
  return stage.make(who, [{ kind: "settings", place: space, remove, put: approval ? { ...rest, approval } : rest }]);
}
