/**
 * What of a desk takes its time on a large site: pledges about to break, guests who use nothing, idle rules. Worked out once
 * for as long as nothing changes, a minute at most; whoever comes before it is there gets the rest, and asks again.
 */

import { type DeskRow, ENDING_WITHIN_DAYS } from "../../../contracts/desk.ts";
import { accessNow } from "../../access/current.ts";
import { onLeavingDatabase } from "../../db/client.ts";
import { noteTrouble } from "../../log.ts";
import { sha256 } from "../../secrets.ts";
import { readForecast } from "../forecast/forecast.ts";
import { readIdle } from "../idle/idle.ts";
import { readGuests } from "../outside/guests.ts";
import { type Asking, DAY, firstOf, go, type Slow, slip, type Told } from "./asking.ts";

type Whose = Pick<Asking, "who" | "keepsSite">;

/** Tells rows apart that are about the same place: two sentences never come to the same. */
const signOf = (sentence: string): string => sha256(sentence).slice(0, 16);

async function breakingRows({ who, keepsSite }: Whose, at: number): Promise<DeskRow[]> {
  if (!keepsSite) return [];
  const { rows } = await readForecast(who, { days: "30" });
  const limit = at + ENDING_WITHIN_DAYS * DAY;
  return rows
    .filter(({ breaks, refused, at: when }) => breaks.length > 0 && refused === null && Date.parse(when) <= limit)
    .map(({ sentence, place, at: when, breaks, later }) => ({
      key: `breaking:${Date.parse(when)}.${signOf(sentence)}`,
      heading: "pledges",
      words: `${sentence}, and a pledge breaks by it`,
      place,
      since: null,
      otherwise: `it breaks by itself on ${when}`,
      lines: breaks.map((it) => `Breaks: ${it}.`),
      acts: [
        ...(later
          ? [
              {
                key: "e",
                name: "4 weeks longer",
                how: { do: "stage" as const, about: place ?? { id: "breaking", name: sentence }, edits: [later.edit], words: later.words },
              },
            ]
          : []),
        ...(place ? [go("o", "Its rules …", slip(place.id, "rules"))] : []),
        go("p", "Pledges …", "/house?part=pledges"),
      ],
    }));
}

async function unusedRows({ who }: Whose): Promise<{ rows: DeskRow[]; total: number }> {
  const { rows, counts } = await readGuests(who, { show: "unused", sort: "use" });
  return {
    total: counts.unused,
    rows: rows.map((guest) => ({
      key: `unused:${guest.id}`,
      heading: "ending",
      words: `${guest.name}, a guest, ${guest.usedAt ? "read nothing for long" : "never read anything"}`,
      place: null,
      since: guest.usedAt ?? guest.from,
      otherwise: guest.until ? `they are let in until ${guest.until}` : "they are let in without end",
      lines: [
        ...(guest.groups.length > 0 ? [`In ${guest.groups.join(", ")}.`] : []),
        ...(guest.by ? [`${guest.by} brought them in.`] : []),
        ...(guest.signedIn ? [`Signed in last ${guest.signedIn}.`] : []),
      ],
      acts: [
        ...(guest.mayEnd ? [{ key: "e", name: "End it", how: { do: "endGuest" as const, guest: guest.id } }] : []),
        go("o", "What they read …", `/outside?part=guests&guest=${encodeURIComponent(guest.id)}`),
      ],
    })),
  };
}

async function idleRows({ who }: Whose): Promise<{ rows: DeskRow[]; total: number }> {
  const { rows, counts, more } = await readIdle(who, {});
  const mended = rows.filter(({ mend }) => mend !== null);
  // Of what is not among the first, those kinds alone that a change mends.
  const kinds = new Set(mended.map(({ kind }) => kind));
  const inAll = counts.reduce((sum, { kind, count }) => sum + (kinds.has(kind) ? count : 0), 0);
  return {
    total: more === 0 ? mended.length : inAll,
    rows: mended.map(({ kind, place, path, sentence, mend }) => ({
      key: `idle:${kind}.${place.id}.${signOf(sentence)}`,
      heading: "machinery",
      words: sentence,
      place,
      since: null,
      otherwise: "people take it for more than it is",
      lines: [path.join(" / "), ...(mend ? [`What mends it: ${mend.sentence}. Nobody gains anything by that.`] : [])].filter(Boolean),
      acts: [
        ...(mend
          ? [{ key: "m", name: "Mend", how: { do: "stage" as const, about: place, edits: [mend.edit], words: mend.sentence } }]
          : []),
        go("o", "Its rules …", slip(place.id, "rules")),
      ],
    })),
  };
}

/** One after the other: of one person few tasks are worked out at a time, and the desk leaves room for what they do by hand. */
async function workOut(asking: Whose, at: number): Promise<Slow> {
  const breaking = await breakingRows(asking, at);
  const unused = await unusedRows(asking);
  return { breaking, unused, idle: await idleRows(asking) };
}

/** What is there of one person's, or being worked out: for a number of the ledger and a time. */
interface Kept {
  seq: number;
  at: number;
  found: Slow | null;
  running: Promise<void> | null;
}

const kept = new Map<string, Kept>();
onLeavingDatabase(() => kept.clear());
const MOST_KEPT = 200;
const MINUTE = 60_000;
/** What failed is not tried again sooner. */
const AGAIN_AFTER = 10_000;
/** So long one waits for it: what is there by then is told at once. */
const PATIENCE = 60;

const patience = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, PATIENCE));

/** Desks are worked out one after the other: what people do by hand is not kept from its turn by them. */
let line: Promise<void> = Promise.resolve();

/** Works it out for somebody once, however often they ask meanwhile and whatever is changed: what is out of date is made anew then. */
function begin(asking: Whose & Pick<Asking, "access">): Kept {
  const { who, access } = asking;
  const it: Kept = { seq: access.seq, at: access.at, found: kept.get(who)?.found ?? null, running: null };
  const turn = async () => {
    try {
      const { seq, at } = await accessNow();
      const found = await workOut(asking, at);
      Object.assign(it, { seq, at, found, running: null });
    } catch (error) {
      noteTrouble("A part of a desk was not worked out", error);
      Object.assign(it, { found: null, running: null });
    }
  };
  it.running = line = line.then(turn);
  if (kept.size >= MOST_KEPT) kept.clear();
  kept.set(who, it);
  return it;
}

/** What was there of it last, whatever came in between: good for counting, not for showing. */
export const slowBefore = (who: string): Slow | null => kept.get(who)?.found ?? null;

function begun(asking: Whose & Pick<Asking, "access">): Kept {
  const { access, who } = asking;
  const known = kept.get(who);
  if (!known) return begin(asking);
  const age = Math.abs(access.at - known.at);
  const isNew = known.seq === access.seq && age < (known.found ? MINUTE : AGAIN_AFTER);
  return known.running || isNew ? known : begin(asking);
}

/** What is there of it by now; null: it is still being worked out. */
export async function slowOf(asking: Whose & Pick<Asking, "access">): Promise<Slow | null> {
  const it = begun(asking);
  if (it.running) await Promise.race([it.running, patience()]);
  return it.running === null && it.seq === asking.access.seq ? it.found : null;
}

/** The rows of it. */
export function slowRows(asking: Asking): Told[] {
  if (!asking.beside.slow) return [];
  const { breaking, unused, idle } = asking.beside.slow;
  return [
    firstOf(asking, breaking, { heading: "pledges", words: "more that break one", address: "/house?part=pledges" }),
    firstOf(asking, unused.rows, {
      heading: "ending",
      words: "more guests who use nothing",
      address: "/outside?part=guests&show=unused",
      beyond: unused.total - unused.rows.length,
    }),
    firstOf(asking, idle.rows, {
      heading: "machinery",
      words: "more idle rules",
      address: "/house?part=idle",
      beyond: idle.total - idle.rows.length,
    }),
  ];
}
