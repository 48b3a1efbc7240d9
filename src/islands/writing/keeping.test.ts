/**
 * Keeping what is typed, against a simple model: people, tabs, a browser and a server that answers late, never, or after
 * it has acted. No typed word is ever lost, and none is shown to anybody else before a version has it.
 */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../test/holds.ts";
import type { KeptWords, Spent } from "../../contracts/writing.ts";
import { bodyText, type PageBody } from "../../core/content/index.ts";
import { beginning, type Clock, Keeper, type Outcome, type Words, type WordsServer, type WordsStore } from "./keeping.ts";

const bodyOf = (text: string): PageBody => ({ schema: 1, content: [{ type: "paragraph", content: text ? [{ type: "text", text }] : [] }] });
const wordsIn = (it: { body: PageBody }): string[] => bodyText(it.body).split(" ").filter(Boolean);
/** As a database gives an object back: its fields in another order. */
const reordered = (body: PageBody): PageBody => JSON.parse(JSON.stringify({ content: body.content, schema: body.schema }));

interface Tab {
  person: string;
  name: string;
  keeper: Keeper;
  others: KeptWords[];
}

type Ending = "answers" | "isLost" | "actsAndIsLost";

class World {
  now = 1_000;
  timers: { at: number; act: () => void }[] = [];
  calls: { act: () => Outcome<unknown>; end: (outcome: Outcome<never>) => void; person: string }[] = [];
  browser = new Map<string, KeptWords>();
  buffers = new Map<string, KeptWords>();
  versions: { version: string; by: string; body: PageBody }[] = [{ version: "0.1", by: "nobody", body: bodyOf("") }];
  tabs: Tab[] = [];
  closedNames: string[] = [];
  typed: { word: string; by: string }[] = [];
  savers = new Set<string>();
  full = false;

  readonly clock: Clock = {
    now: () => this.now,
    later: (milliseconds, act) => {
      const timer = { at: this.now + milliseconds, act };
      this.timers.push(timer);
      return () => {
        this.timers = this.timers.filter((it) => it !== timer);
      };
    },
  };

  get newest() {
    return this.versions.at(-1) as World["versions"][number];
  }

  private call<T>(person: string, act: () => Outcome<T>): Promise<Outcome<T>> {
    return new Promise((end) => this.calls.push({ act, end: end as never, person }));
  }

  private forget(person: string, spent: readonly Spent[]): void {
    for (const { tab, rev } of spent)
      if ((this.buffers.get(`${person}.${tab}`)?.rev ?? Number.POSITIVE_INFINITY) <= rev) this.buffers.delete(`${person}.${tab}`);
  }

  private server(person: string): WordsServer {
    return {
      keep: (words, spent) =>
        this.call(person, () => {
          this.forget(person, spent);
          const key = `${person}.${words.tab}`;
          if ((this.buffers.get(key)?.rev ?? 0) <= words.rev) this.buffers.set(key, { ...words, body: reordered(words.body) });
          return { is: "done", answer: {} };
        }),
      save: (words, _note, spent) =>
        this.call(person, () => {
          const { version, by, body } = this.newest;
          if (version !== words.base)
            return { is: "refused", message: "newer", theirs: { version, by, title: "T", body: reordered(body) } };
          const next = `0.${this.versions.length + 1}`;
          this.versions.push({ version: next, by: person, body: words.body });
          this.forget(person, spent);
          return { is: "done", answer: { version: next } };
        }),
      drop: (spent) =>
        this.call(person, () => {
          this.forget(person, spent);
          return { is: "done", answer: {} };
        }),
    };
  }

  private store(person: string, tab: string): WordsStore {
    return {
      tab,
      put: (words) => {
        if (this.full) return false;
        this.browser.set(`${person}.${words.tab}`, words);
        return true;
      },
      drop: (other) => void this.browser.delete(`${person}.${other}`),
    };
  }

  private keptFor = (where: Map<string, KeptWords>, person: string) =>
    [...where].flatMap(([key, it]) => (key.startsWith(`${person}.`) ? [it] : []));

  begin(person: string, name: string) {
    const { version, body } = this.newest;
    const open = new Set(this.tabs.map((it) => it.name));
    return beginning(
      { title: "T", body, base: version },
      name,
      this.keptFor(this.browser, person),
      this.keptFor(this.buffers, person),
      (tab) => open.has(tab),
    );
  }

  open(person: string, name: string): void {
    const start = this.begin(person, name);
    const shown = [start.words, ...start.others].flatMap(wordsIn);
    const inVersions = new Set(this.versions.flatMap(wordsIn));
    for (const { word, by } of this.typed)
      if (by !== person && shown.includes(word)) expect(inVersions, `${word} of ${by} is shown to ${person}`).toContain(word);
    this.tabs.push({
      person,
      name,
      others: start.others,
      keeper: new Keeper(start, this.store(person, name), this.server(person), this.clock),
    });
  }

  type(tab: Tab): void {
    const word = `w${this.typed.length}`;
    this.typed.push({ word, by: tab.person });
    tab.keeper.typed({ title: "T", body: bodyOf([...wordsIn(tab.keeper.current()), word].join(" ")) });
  }

  save(tab: Tab, on?: string): void {
    this.savers.add(tab.name);
    void tab.keeper.save("", on);
  }

  close(tab: Tab): void {
    this.tabs = this.tabs.filter((it) => it !== tab);
    this.closedNames.push(tab.name);
    // What a tab has not heard of when it closes, whoever opens it again cannot know: it is as if another had saved.
    if (this.savers.has(tab.name) && (tab.keeper.problem !== "" || this.calls.length > 0)) this.savers.add(`${tab.name}, closed`);
    // The tab is gone in the middle of whatever it did: nothing of it runs any more.
    tab.keeper.stop();
  }

  async answer(at: number, how: Ending): Promise<void> {
    const [call] = this.calls.splice(at % Math.max(1, this.calls.length), 1);
    if (!call) return;
    const outcome = how === "isLost" ? null : call.act();
    call.end((how === "answers" ? outcome : { is: "unanswered" }) as Outcome<never>);
    await this.settle();
  }

  async pass(milliseconds: number): Promise<void> {
    this.now += milliseconds;
    for (const timer of this.timers.filter((it) => it.at <= this.now)) {
      this.timers = this.timers.filter((it) => it !== timer);
      timer.act();
    }
    await this.settle();
  }

  settle = (): Promise<void> => new Promise((later) => setImmediate(later));

  check(): void {
    const everywhere = (person: string) =>
      new Set(
        [
          ...this.versions,
          ...this.keptFor(this.buffers, person),
          ...this.keptFor(this.browser, person),
          // A full browser is the one place where only the open tab has what the server does not have yet.
          ...(this.full ? this.tabs.filter((it) => it.person === person).map((it) => it.keeper.current()) : []),
        ].flatMap(wordsIn),
      );
    const found = new Map(["ana", "ben"].map((person) => [person, everywhere(person)]));
    for (const { word, by } of this.typed) expect(found.get(by)?.has(word), `${word} of ${by} is nowhere`).toBe(true);
    for (const tab of this.tabs)
      if (this.savers.size <= 1 && this.savers.has(tab.name)) expect(tab.keeper.theirs, "a conflict with oneself").toBeNull();
  }
}

type Step = (world: World) => void | Promise<void>;
const tabOf = (world: World, at: number): Tab | undefined => world.tabs[at % Math.max(1, world.tabs.length)];
const onTab = (act: (world: World, tab: Tab) => void | Promise<void>) =>
  fc.nat(5).map(
    (at): Step =>
      (world) => {
        const tab = tabOf(world, at);
        return tab ? act(world, tab) : undefined;
      },
  );
const person = fc.constantFrom("ana", "ben");

const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 2,
    arbitrary: person.map(
      (who): Step =>
        (world) =>
          world.tabs.length < 4 ? world.open(who, `t${world.tabs.length + world.closedNames.length}`) : undefined,
    ),
  },
  // The same tab again: a reload, or another person who signs in there.
  {
    weight: 1,
    arbitrary: fc.tuple(person, fc.nat(5)).map(
      ([who, at]): Step =>
        (world) => {
          const name = world.closedNames[at];
          if (name && !world.tabs.some((it) => it.name === name)) world.open(who, name);
        },
    ),
  },
  { weight: 6, arbitrary: onTab((world, tab) => world.type(tab)) },
  { weight: 4, arbitrary: onTab((world, tab) => world.save(tab)) },
  {
    weight: 1,
    arbitrary: onTab((world, tab) => (tab.keeper.theirs ? world.save(tab, tab.keeper.theirs.version) : undefined)),
  },
  { weight: 1, arbitrary: onTab((world, tab) => world.close(tab)) },
  {
    weight: 1,
    arbitrary: onTab((world, tab) => {
      const [other, ...rest] = tab.others;
      if (!other) return;
      const parked = tab.keeper.swap(other, `${tab.name}-${world.now}`);
      tab.others = [...rest, ...(parked ? [parked] : [])];
    }),
  },
  {
    weight: 8,
    arbitrary: fc.tuple(fc.nat(5), fc.constantFrom<Ending>("answers", "answers", "answers", "isLost", "actsAndIsLost")).map(
      ([at, how]): Step =>
        (world) =>
          world.answer(at, how),
    ),
  },
  {
    weight: 6,
    arbitrary: fc.constantFrom(10, 1_600, 40_000).map(
      (it): Step =>
        (world) =>
          world.pass(it),
    ),
  },
  { weight: 1, arbitrary: onTab((_world, tab) => tab.keeper.online()) },
);

/** Lets everything come to an end: the server answers, the clock goes on. */
async function calm(world: World): Promise<void> {
  for (let i = 0; i < 60 && (world.calls.length > 0 || world.timers.length > 0); i++) {
    while (world.calls.length > 0) await world.answer(0, "answers");
    await world.pass(40_000);
  }
}

describe("keeping what is typed", () => {
  it("loses no word and shows none to anybody else, whatever tabs, people, the network and the server do", async () => {
    await holds(
      fc.asyncProperty(fc.array(step, { minLength: 5, maxLength: 60 }), async (steps) => {
        const world = new World();
        for (const act of steps) {
          await act(world);
          await world.settle();
          world.check();
        }
        await calm(world);
        world.check();
        for (const tab of world.tabs)
          if (tab.keeper.dirty && tab.keeper.standing.is === "kept")
            expect(world.buffers.get(`${tab.person}.${tab.name}`)?.rev).toBeGreaterThan(0);
        for (const tab of [...world.tabs]) world.close(tab);
        for (const who of ["ana", "ben"]) {
          const start = world.begin(who, "the last tab");
          const found = new Set([start.words, ...start.others, ...world.versions].flatMap(wordsIn));
          for (const { word, by } of world.typed) if (by === who) expect(found, `${word} is not offered again`).toContain(word);
        }
      }),
      { runs: 800 },
    );
  });

  it("keeps nothing from the server's answer to itself: refused, unanswered and taken are told apart", async () => {
    const world = new World();
    world.open("ana", "t");
    const [tab] = world.tabs as [Tab];
    world.type(tab);
    await world.pass(1_600);
    await world.answer(0, "isLost");
    expect(tab.keeper.standing).toEqual({ is: "unanswered", inBrowser: true });
    tab.keeper.online();
    await world.pass(1);
    await world.answer(0, "answers");
    expect(tab.keeper.standing).toEqual({ is: "kept" });
    world.full = true;
    world.type(tab);
    await world.pass(1_600);
    const [call] = world.calls.splice(0, 1);
    call?.end({ is: "refused", message: "The 2nd block has a hole." });
    await world.settle();
    expect(tab.keeper.standing).toMatchObject({ is: "refused", message: "The 2nd block has a hole.", inBrowser: false });
  });

  it("takes two presses of Save as one, and puts words typed meanwhile on top of the version", async () => {
    const world = new World();
    world.open("ana", "t");
    const [tab] = world.tabs as [Tab];
    world.type(tab);
    const both = [tab.keeper.save("x"), tab.keeper.save("x")];
    await world.settle();
    expect(world.calls).toHaveLength(1);
    world.type(tab);
    await world.answer(0, "answers");
    expect(await Promise.all(both)).toEqual(["0.2", "0.2"]);
    expect(tab.keeper.dirty).toBe(true);
    const again = tab.keeper.save("y");
    await world.settle();
    await world.answer(0, "answers");
    expect(await again).toBe("0.3");
    const saved: Words = { title: "T", body: world.newest.body, base: "0.3" };
    expect(wordsIn(saved)).toEqual(["w0", "w1"]);
  });
});
