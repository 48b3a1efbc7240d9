/**
 * The tray: where changes from any view wait together, with their common ripple, until they are applied or thrown away.
 * What waits belongs to a person and is the same in all tabs of the browser. Answers come late, in any order, or never;
 * what was thrown away or taken out meanwhile does not come back. Nothing here knows of the browser: `store.ts` does.
 */
import type { Preview, ProposalView, ProposedChange } from "../../contracts/change.ts";
import type { Edit, Wished } from "../../core/access/model/index.ts";
import type { LifeAct } from "../../core/lifecycle/index.ts";
import { isNothing, supersede } from "./supersede.ts";

export type TrayWish = { column: string; name: string } & Wished;

/** Places that something is wished for at, all alike. */
export interface WishedAt {
  id: string;
  title: string;
  alsoAt?: string[];
}

/** One thing that waits: wishes at a place with the change that achieves them, or a rule edited by hand. */
export interface TrayItem {
  id: string;
  place: string;
  title: string;
  /** Further places that its wishes are for. */
  alsoAt?: string[];
  wishes: TrayWish[];
  change: ProposedChange;
  /** An act with its choices; then there are no edits. */
  act?: LifeAct;
  others: ProposedChange[];
  exceptions: string[];
  /** Order in which things were put in. */
  turn: number;
}

export interface TrayState {
  items: TrayItem[];
  preview: Preview | null;
  /** Whether the preview is of just what waits now. */
  fresh: boolean;
  busy: boolean;
  /** What went wrong, or why a wish cannot be met; with what was kept. */
  problem: string;
  /** What is the matter with single items, by id. */
  trouble: Readonly<Record<string, string>>;
  /** `final`: it cannot be taken back. */
  applied: { seq: number; summary: string; final?: boolean } | null;
  open: boolean;
  note: string;
  reason: string;
}

/** An error of a call: what the server says, and of which edits, by number. */
export interface CallError {
  message: string;
  code: string;
  edits: { nth: number; message: string }[];
}

export interface TrayServer {
  preview(edits: Edit[], columns: string[], acts: LifeAct[]): Promise<Preview>;
  propose(places: readonly string[], wishes: TrayWish[], edits: Edit[]): Promise<ProposalView>;
  apply(order: { edits: Edit[]; acts: LifeAct[]; note: string; reason: string; seen: string }): Promise<{ seq: number }>;
  /** After something was changed: what views have read is read again. */
  changed(): Promise<unknown>;
  errorOf(error: unknown): CallError;
}

/** What waits, shared by the tabs of a browser. */
export interface TrayStore {
  list(): TrayItem[];
  put(item: TrayItem): void;
  drop(id: string): void;
}

const NOTHING: TrayState = {
  items: [],
  preview: null,
  fresh: false,
  busy: false,
  problem: "",
  trouble: {},
  applied: null,
  open: false,
  note: "",
  reason: "",
};

export const editsOf = (items: readonly TrayItem[]): Edit[] => items.flatMap((item) => item.change.edits);

export const actsOf = (items: readonly TrayItem[]): LifeAct[] => items.flatMap(({ act }) => act ?? []);

const samePlaces = (a: readonly TrayItem[], b: readonly TrayItem[]): boolean =>
  a.length === b.length && a.every((item, i) => item.id === b[i]?.id && item.turn === b[i]?.turn);

export class TrayModel {
  state: TrayState = NOTHING;
  private columns: string[] = [];
  /** Grows when everything is thrown away: answers to what was asked before count for nothing. */
  private era = 0;
  /** Of each wish's place, the last time something was decided about it by hand. */
  private decided = new Map<string, number>();
  private steps = 0;
  private asked = 0;
  private looking = false;
  private wishing = 0;
  private applying = false;
  private wishes: Promise<void> = Promise.resolve();

  constructor(
    private readonly server: TrayServer,
    private readonly store: TrayStore,
    private readonly onChange: () => void = () => {},
  ) {}

  private set(change: Partial<TrayState>): void {
    this.state = { ...this.state, ...change, busy: this.looking || this.wishing > 0 || this.applying };
    this.onChange();
  }

  /** What waits is now this. An empty tray keeps no note for what comes next. */
  private setItems(items: TrayItem[], change: Partial<TrayState> = {}): void {
    const sorted = [...items].sort((a, b) => a.turn - b.turn);
    const ids = new Set(sorted.map((item) => item.id));
    const trouble = Object.fromEntries(Object.entries(this.state.trouble).filter(([id]) => ids.has(id)));
    const empty = sorted.length === 0 ? { note: "", reason: "", preview: null, open: false } : {};
    this.set({ items: sorted, fresh: false, trouble, ...empty, ...change });
  }

  /** Brings back what waits, also what another tab put in or took out. */
  read(): void {
    const items = this.present();
    if (samePlaces(items, this.state.items)) return;
    this.setItems(items);
    void this.look();
  }

  /** Which columns of the grid are on the screen: their cells are shown before and after. */
  showColumns(keys: string[]): void {
    const same = keys.join() === this.columns.join();
    this.columns = keys;
    if (!same && this.state.items.length > 0) void this.look();
  }

  /** Asks what everything in the tray would do. */
  async look(): Promise<void> {
    const turn = ++this.asked;
    const { items } = this.state;
    this.looking = items.length > 0;
    if (items.length === 0) return this.set({ preview: null, fresh: false });
    this.set({});
    try {
      const preview = await this.server.preview(editsOf(items), this.columns, actsOf(items));
      if (turn !== this.asked) return;
      this.looking = false;
      this.set({ preview, fresh: true, trouble: {} });
    } catch (error) {
      if (turn !== this.asked) return;
      this.looking = false;
      this.tell(error, items, { preview: null, fresh: false });
    }
  }

  /** Says what went wrong, as a whole and of each item that it is about. */
  private tell(error: unknown, items: readonly TrayItem[], change: Partial<TrayState> = {}): void {
    const { message, edits } = this.server.errorOf(error);
    const owners = items.flatMap((item) => item.change.edits.map(() => item.id));
    const trouble: Record<string, string> = {};
    for (const { nth, message: what } of edits) if (owners[nth]) trouble[owners[nth]] = what;
    this.set({ problem: message, trouble, ...change });
  }

  /** What waits by now, also what another tab put in of which nobody has told this one yet. */
  private present = (): TrayItem[] => this.store.list().sort((a, b) => a.turn - b.turn);

  /** Puts something in; whatever waits for the same rules goes. */
  private put(item: Omit<TrayItem, "turn">): void {
    const present = this.present();
    const others = present.filter((it) => it.id !== item.id);
    const { kept, edits } = supersede(editsOf(others), item.change.edits);
    const left: TrayItem[] = [];
    let nth = 0;
    for (const other of others) {
      const keeps = other.change.edits.map(() => kept[nth++] ?? true);
      if (keeps.every(Boolean)) left.push(other);
      else if (keeps.some(Boolean)) left.push(this.partOf(other, keeps));
      else this.store.drop(other.id);
    }
    const turn = Math.max(0, ...[...present, ...this.state.items].map((it) => it.turn)) + 1;
    const sentences = item.act ? item.change.sentences : item.change.sentences.filter((_, i) => !isNothing(edits[i] as Edit));
    const change = { ...item.change, edits: edits.filter((edit) => !isNothing(edit)), sentences };
    for (const it of left) this.store.put(it);
    if (change.edits.length === 0 && !item.act) this.store.drop(item.id);
    else {
      const whole = { ...item, change, turn };
      this.store.put(whole);
      left.push(whole);
    }
    this.setItems(left, { problem: "", applied: null });
    void this.look();
  }

  /** What is left of an item when some of its rules were decided anew; its wishes are not what it does any more. */
  private partOf(item: TrayItem, keeps: readonly boolean[]): TrayItem {
    const { edits, sentences } = item.change;
    const change = { edits: edits.filter((_, i) => keeps[i]), sentences: sentences.filter((_, i) => keeps[i]), besides: "" };
    return { ...item, wishes: [], others: [], change };
  }

  /** Takes one thing out; that is always possible. */
  remove(id: string): void {
    this.decided.set(id, ++this.steps);
    this.store.drop(id);
    this.setItems(this.present(), { problem: "" });
    void this.look();
  }

  throwAway(): void {
    this.era++;
    this.asked++;
    this.looking = false;
    // A wish whose answer is still to come holds nothing up any more.
    this.wishing = 0;
    this.wishes = Promise.resolve();
    for (const { id } of [...this.state.items, ...this.store.list()]) this.store.drop(id);
    this.setItems([], { problem: "", trouble: {} });
  }

  open(open = !this.state.open): void {
    this.set({ open });
  }

  /** A change that was made at once, past the tray: it is told there, with its taking back. */
  done(seq: number, summary: string, back = true): void {
    this.set({ applied: { seq, summary, ...(back ? {} : { final: true }) }, problem: "" });
  }

  dismiss(): void {
    this.set({ applied: null, problem: "" });
  }

  write(texts: { note?: string; reason?: string }): void {
    this.set(texts);
  }

  /**
   * A wish from a cell: this column has exactly this level at this place. The best change for it goes into the tray.
   * Wishes made in quick succession wait for each other: a later one at the same place is added to the earlier ones.
   */
  wish(place: WishedAt, wish: TrayWish): Promise<void> {
    const { era } = this;
    const step = ++this.steps;
    this.wishing++;
    this.set({ problem: "", applied: null });
    this.wishes = this.wishes.then(async () => {
      if (era === this.era) await this.grant(place, wish, { era, step });
      if (era !== this.era) return;
      this.wishing--;
      this.set({});
    });
    return this.wishes;
  }

  /** Works out anew what wishes at a place need, where what was found does not fit any more. */
  again(item: TrayItem): Promise<void> {
    const [last] = item.wishes.slice(-1);
    const { place: id, title, alsoAt } = item;
    return last ? this.wish({ id, title, ...(alsoAt ? { alsoAt } : {}) }, last) : Promise.resolve();
  }

  private async grant(place: WishedAt, wish: TrayWish, { era, step }: { era: number; step: number }): Promise<void> {
    const places = [place.id, ...(place.alsoAt ?? [])];
    const id = `wish:${places.join()}`;
    const present = this.present();
    const known = present.find((item) => item.id === id);
    // The newest comes last: where nothing achieves them all, the reason is asked for that one.
    const wishes = [...(known?.wishes ?? []).filter((it) => it.column !== wish.column), wish];
    const isOver = () => era !== this.era || (this.decided.get(id) ?? 0) > step;
    if (isOver()) return;
    try {
      const waiting = editsOf(present.filter((item) => item.id !== id));
      const proposal = await this.server.propose(places, wishes, waiting);
      if (isOver()) return;
      if (proposal.alreadySo) {
        if (known) this.remove(id);
        this.set({ problem: `${wish.name} have exactly this on ${place.title} already.` });
      } else if (!proposal.best) this.set({ problem: proposal.reason });
      else {
        const { best: change, others, exceptions } = proposal;
        this.put({ ...place, id, place: place.id, wishes, change, others, exceptions });
      }
    } catch (error) {
      if (!isOver()) this.set({ problem: this.server.errorOf(error).message });
    }
  }

  /** Takes another of the offered changes for the same wishes. */
  choose(item: TrayItem, other: ProposedChange): void {
    this.put({ ...item, change: other, others: [item.change, ...item.others.filter((it) => it !== other)] });
  }

  /** A rule edited by hand in the slip; `rule` names which, so that a later choice at it replaces this one. */
  stage(place: { id: string; title: string }, rule: string, edit: Edit, sentence: string): void {
    this.stageAll(place, rule, [edit], [sentence]);
  }

  /** Several edits that only make sense together: they come out of the tray as one. */
  stageAll(place: { id: string; title: string }, rule: string, edits: Edit[], sentences: string[]): void {
    const id = `rule:${place.id}:${rule}`;
    this.decided.set(id, ++this.steps);
    this.put({
      id,
      place: place.id,
      title: place.title,
      wishes: [],
      change: { edits, sentences, besides: "" },
      others: [],
      exceptions: [],
    });
  }

  /** An act from its sheet; what waits for one of the same places goes. */
  act(place: { id: string; title: string }, act: LifeAct, sentence: string): void {
    const id = `act:${place.id}`;
    const touched = new Set(act.places);
    for (const other of this.present()) if (other.id !== id && other.act?.places.some((it) => touched.has(it))) this.store.drop(other.id);
    this.decided.set(id, ++this.steps);
    const change = { edits: [], sentences: [sentence], besides: "" };
    this.put({ id, place: place.id, title: place.title, wishes: [], change, act, others: [], exceptions: [] });
  }

  /** Applies everything in the tray as one change, or nothing of it. */
  async apply(): Promise<boolean> {
    const { preview, items, note, reason, fresh } = this.state;
    if (!preview || !fresh || this.applying) return false;
    this.applying = true;
    this.set({ problem: "" });
    try {
      const { seq } = await this.server.apply({ edits: editsOf(items), acts: actsOf(items), note, reason, seen: preview.seen });
      this.applying = false;
      const summary = preview.ripple.summary.map((it) => it.text).join(" · ") || "Nobody gains or loses anything";
      const done = new Map(items.map((item) => [item.id, item.turn]));
      for (const { id, turn } of this.present()) if (done.get(id) === turn) this.store.drop(id);
      // What came in while this was under way goes on waiting, without the note of what is done.
      const nothing = { note: "", reason: "", preview: null, open: false, problem: "" };
      this.setItems(this.present(), { applied: { seq, summary }, ...nothing });
      await this.server.changed();
      await this.look();
      return true;
    } catch (error) {
      this.applying = false;
      this.tell(error, items);
      // The rules may have moved on: show what this would do now. What was prepared stays.
      if (this.server.errorOf(error).code === "changedMeanwhile") {
        const told = this.state.problem;
        await this.server.changed();
        await this.look();
        if (!this.state.problem) this.set({ problem: told });
      }
      return false;
    }
  }
}
