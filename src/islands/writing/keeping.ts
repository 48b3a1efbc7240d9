/**
 * Keeping what is typed: at once in the browser, soon after on the server, as a version when somebody says so. What is
 * kept belongs to a person, a page and a tab. One call to the server at a time, so that none overtakes another; whatever
 * fails, the words stay where they are. Nothing here knows of the browser: `browserWords.ts` brings storage and clock.
 */
import type { KeptWords, Spent } from "../../contracts/writing.ts";
import { sameValue } from "../../core/access/model/index.ts";
import type { PageBody } from "../../core/content/index.ts";

export interface Words {
  title: string;
  body: PageBody;
  /** Version they stand on, as "2.1". */
  base: string;
}

/** A version somebody else saved meanwhile. */
export interface Theirs {
  version: string;
  by: string;
  title: string;
  body: PageBody;
}

/** How a call to the server ended. */
export type Outcome<T> =
  | { is: "done"; answer: T }
  | { is: "refused"; message: string; theirs?: Theirs; where?: string | undefined }
  | { is: "unanswered" };

export interface WordsServer {
  keep(words: KeptWords, spent: readonly Spent[]): Promise<Outcome<unknown>>;
  save(words: Words, note: string, spent: readonly Spent[]): Promise<Outcome<{ version: string }>>;
  drop(spent: readonly Spent[]): Promise<Outcome<unknown>>;
}

/** What this browser keeps for one person on one page. */
export interface WordsStore {
  tab: string;
  /** False where the browser has no room. */
  put(words: KeptWords): boolean;
  drop(tab: string): void;
}

export interface Clock {
  now(): number;
  /** Calls back later; what it returns calls that off. */
  later(milliseconds: number, act: () => void): () => void;
}

export type Standing =
  | { is: "unchanged" }
  | { is: "broughtBack" }
  | { is: "typing" }
  | { is: "kept" }
  | { is: "unanswered"; inBrowser: boolean }
  | { is: "refused"; message: string; inBrowser: boolean; where?: string | undefined }
  | { is: "saving" }
  | { is: "saved"; version: string };

export const sameWords = (a: { title: string; body: PageBody }, b: { title: string; body: PageBody }): boolean =>
  a.title === b.title && sameValue(a.body, b.body);

export interface Beginning {
  words: Words;
  /** Kept words the beginning was made of, or null for the newest version. */
  from: KeptWords | null;
  /** Other kept words of the same person on the page; none of them is lost by going on. */
  others: KeptWords[];
}

/**
 * What to begin with: words this tab kept, else the newest that no open tab of this browser is at, else the newest
 * version. Words that say what the newest version says are spent.
 */
export function beginning(
  newest: Words,
  own: string,
  inBrowser: readonly KeptWords[],
  onServer: readonly KeptWords[],
  isOpen: (tab: string) => boolean,
): Beginning {
  const byTab = new Map<string, KeptWords>();
  for (const words of [...onServer, ...inBrowser]) {
    const known = byTab.get(words.tab);
    if (!known || known.rev <= words.rev) byTab.set(words.tab, words);
  }
  const candidates = [...byTab.values()]
    .filter((it) => (it.tab === own || !isOpen(it.tab)) && !sameWords(it, newest))
    .sort((a, b) => Number(b.tab === own) - Number(a.tab === own) || b.rev - a.rev);
  const [from = null, ...rest] = candidates;
  const words = from ? { title: from.title, body: from.body, base: from.base } : newest;
  return { words, from, others: rest.filter((it) => !sameWords(it, words)) };
}

const PAUSE = 1_500;
const FIRST_WAIT = 2_000;
const LONGEST_WAIT = 30_000;

export class Keeper {
  private words: Words;
  /** Of the newest words; grows with each change. */
  private rev = 0;
  private atServer = 0;
  private saved = 0;
  private spent: Spent[] = [];
  private inBrowser = true;
  private busy = false;
  private saving: Promise<string | null> | null = null;
  /** Words of saves whose outcome never came: the server may have any of them. */
  private unsure: Words[] = [];
  private wait = FIRST_WAIT;
  private callOff: (() => void) | null = null;
  private stopped = false;
  theirs: Theirs | null = null;
  problem = "";
  standing: Standing = { is: "unchanged" };

  constructor(
    start: Beginning,
    private readonly store: WordsStore,
    private readonly server: WordsServer,
    private readonly clock: Clock,
    private readonly onChange: () => void = () => {},
  ) {
    this.words = start.words;
    if (start.from) this.takeUp(start.from);
  }

  get base(): string {
    return this.words.base;
  }

  /** Whether there are words that no version has. */
  get dirty(): boolean {
    return this.rev > this.saved;
  }

  current(): Words {
    return this.words;
  }

  /** Words kept elsewhere become this tab's: first a copy here, then the other may go. */
  private takeUp(from: KeptWords): void {
    this.words = { title: from.title, body: from.body, base: from.base };
    this.rev = this.nextRev(from.rev);
    this.saved = this.rev - 1;
    if (from.tab !== this.store.tab) this.spent.push({ tab: from.tab, rev: from.rev });
    if (this.put() && from.tab !== this.store.tab) this.store.drop(from.tab);
    this.say({ is: "broughtBack" });
    this.plan(PAUSE);
  }

  private nextRev(least = 0): number {
    return Math.max(this.rev + 1, least + 1, this.clock.now());
  }

  private kept(): KeptWords {
    return { ...this.words, tab: this.store.tab, rev: this.rev };
  }

  private put(): boolean {
    this.inBrowser = this.store.put(this.kept());
    return this.inBrowser;
  }

  private say(standing: Standing): void {
    this.standing = standing;
    this.onChange();
  }

  private plan(milliseconds: number): void {
    this.callOff?.();
    this.callOff = this.clock.later(milliseconds, () => {
      this.callOff = null;
      void this.sendKept();
    });
  }

  /** Something was typed. */
  typed(words: Omit<Words, "base">): void {
    if (this.stopped) return;
    this.words = { ...words, base: this.words.base };
    this.rev = this.nextRev();
    this.put();
    if (!this.saving) this.say({ is: "typing" });
    this.plan(PAUSE);
  }

  /** The network is back: no need to wait any longer. */
  online(): void {
    this.wait = FIRST_WAIT;
    if (this.dirty && this.atServer < this.rev) this.plan(0);
  }

  private async sendKept(): Promise<void> {
    if (this.busy || this.stopped || !this.dirty || this.atServer >= this.rev) return;
    this.busy = true;
    const kept = this.kept();
    const spent = [...this.spent];
    const outcome = await this.server.keep(kept, spent);
    this.busy = false;
    if (outcome.is === "done") {
      this.atServer = Math.max(this.atServer, kept.rev);
      this.wait = FIRST_WAIT;
      this.forget(spent);
      if (this.rev === kept.rev && this.dirty && !this.saving) this.say({ is: "kept" });
    } else if (outcome.is === "unanswered") {
      if (!this.saving) this.say({ is: "unanswered", inBrowser: this.inBrowser });
      this.plan(this.wait);
      this.wait = Math.min(LONGEST_WAIT, this.wait * 2);
      return;
    } else if (!this.saving) this.say({ is: "refused", message: outcome.message, where: outcome.where, inBrowser: this.inBrowser });
    if (this.rev > kept.rev && !this.callOff) this.plan(PAUSE);
  }

  private forget(spent: readonly Spent[]): void {
    this.spent = this.spent.filter((it) => !spent.includes(it));
  }

  /** Saves what is there now as a version, on another version than these words began on if that is given. */
  save(note: string, on?: string): Promise<string | null> {
    // A second press while the first is under way is the same wish.
    this.saving ??= this.saveNow(note, on).finally(() => {
      this.saving = null;
      if (this.dirty && this.atServer < this.rev && !this.callOff) this.plan(PAUSE);
      this.onChange();
    });
    this.onChange();
    return this.saving;
  }

  private async saveNow(note: string, on = this.words.base): Promise<string | null> {
    this.callOff?.();
    this.callOff = null;
    this.problem = "";
    this.say({ is: "saving" });
    while (this.busy) await new Promise<void>((done) => this.clock.later(20, done));
    const rev = this.rev;
    const words = { ...this.words, base: on };
    const spent = [...this.spent, { tab: this.store.tab, rev }];
    this.busy = true;
    const outcome = await this.server.save(words, note, spent);
    this.busy = false;
    if (outcome.is === "done") return this.landed(outcome.answer.version, rev, spent);
    if (outcome.is === "unanswered") {
      this.unsure.push(words);
      this.problem = "The server does not answer: no version was made yet. Your words are kept; save again when it is back.";
      this.say({ is: "unanswered", inBrowser: this.inBrowser });
      return null;
    }
    const { theirs } = outcome;
    if (theirs && this.unsure.some((it) => sameWords(theirs, it))) {
      // It was this tab's own save that had landed after all.
      this.unsure = [];
      this.words = { ...this.words, base: theirs.version };
      if (sameWords(theirs, words)) return this.landed(theirs.version, rev, spent);
      return this.saveNow(note, theirs.version);
    }
    this.theirs = theirs ?? null;
    this.problem = outcome.message;
    this.say({ is: "refused", message: outcome.message, where: outcome.where, inBrowser: this.inBrowser });
    return null;
  }

  /** A version has the words up to `rev`; later ones go on, on top of it. */
  private landed(version: string, rev: number, spent: readonly Spent[]): string {
    this.saved = Math.max(this.saved, rev);
    this.words = { ...this.words, base: version };
    this.theirs = null;
    this.unsure = [];
    this.forget(spent);
    if (this.rev > this.saved) this.put();
    else this.store.drop(this.store.tab);
    this.say({ is: "saved", version });
    return version;
  }

  /** Makes a version of other words on top of these, which must all be in a version, and goes on from it. */
  async saveOther(words: Words, note: string): Promise<string | null> {
    const outcome = await this.server.save(words, note, []);
    if (outcome.is === "done") {
      this.words = { ...words, base: outcome.answer.version };
      this.say({ is: "saved", version: outcome.answer.version });
      return outcome.answer.version;
    }
    this.problem = outcome.is === "refused" ? outcome.message : "The server does not answer. Your version is saved; theirs is as it was.";
    this.onChange();
    return null;
  }

  /** A newer version came meanwhile, and nothing was typed: it is gone on from. */
  renew(words: Words): boolean {
    if (this.dirty) return false;
    this.words = words;
    this.onChange();
    return true;
  }

  /** The words stand on another version now: the one they were published as. */
  rebase(version: string): void {
    this.words = { ...this.words, base: version };
    if (this.dirty) this.put();
    this.onChange();
  }

  /** Takes up other kept words instead; what is here now and in no version is kept beside them under another name. */
  swap(other: KeptWords, parkedAs: string): KeptWords | null {
    const parked = this.dirty ? { ...this.words, tab: parkedAs, rev: this.rev } : null;
    if (parked) {
      this.store.put(parked);
      void this.server.keep(parked, []);
    }
    this.takeUp(other);
    return parked;
  }

  /** Throws other kept words away for good. */
  throwAway(other: KeptWords): Promise<Outcome<unknown>> {
    this.store.drop(other.tab);
    return this.server.drop([{ tab: other.tab, rev: other.rev }]);
  }

  stop(): void {
    this.stopped = true;
    this.callOff?.();
  }
}
