/** Ways that attacks took once, or that lead past what watches one door alone: tried every time, before anything is drawn. */
import type { Step } from "./act.ts";
import type { Sequence } from "./sequences.ts";
import type { Actor } from "./stage.ts";

/** Pages of a world, as steps number them. */
const [LIVE, DRAFT, BELOW, ELSEWHERE] = [0, 1, 2, 3];
const MEI = 4;
const DORA = 5;

const step = (act: string, who: Actor, on: number, way: number, other = MEI): Step => ({ act, who, on, other, way, lose: null });
const sequence = (asks: boolean, ...steps: Step[]): Sequence => ({ beginning: { asks, preset: "openHouse" }, steps });

// Of a move or a restore 9 leads into the first space, without a word on how it arrives; of publishing and copying 1 does.
const [INTO, HERE] = [9, 1];

export const KNOWN: readonly Sequence[] = [
  // Words that nobody approved, by every door into a space that asks.
  sequence(true, step("move", "ines", ELSEWHERE, INTO)),
  sequence(true, step("archive", "ines", ELSEWHERE, 0), step("move", "ines", ELSEWHERE, INTO), step("unarchive", "ines", ELSEWHERE, 0)),
  sequence(true, step("take down", "ines", ELSEWHERE, 0), step("move", "ines", ELSEWHERE, INTO), step("bare state", "ines", ELSEWHERE, 0)),
  sequence(true, step("bin", "ines", ELSEWHERE, 0), step("restore", "ines", ELSEWHERE, INTO)),
  sequence(true, step("save", "lena", ELSEWHERE, 0), step("publish elsewhere", "lena", ELSEWHERE, HERE)),
  sequence(true, step("import", "ines", ELSEWHERE, 0)),
  sequence(true, step("publish from the workbench", "lena", ELSEWHERE, HERE)),
  sequence(false, step("go live at a time", "maren", DRAFT, 0), step("ask for approval", "maren", DRAFT, 2)),
  sequence(true, step("save", "mei", LIVE, 0), step("publish", "maren", LIVE, 0)),
  // One's own words, alone and beside those of another.
  sequence(
    true,
    step("grant", "maren", LIVE, 2),
    step("save", "mei", LIVE, 0),
    step("give in", "mei", LIVE, 0),
    step("approve", "mei", LIVE, 0),
    step("publish", "mei", LIVE, 0),
  ),
  sequence(
    true,
    step("save", "maren", LIVE, 0),
    step("save", "lena", LIVE, 0),
    step("give in", "lena", LIVE, 0),
    step("approve", "lena", LIVE, 0),
    step("publish", "lena", LIVE, 0),
  ),
  // Approved once, written on since.
  sequence(
    true,
    step("save", "mei", LIVE, 0),
    step("give in", "mei", LIVE, 0),
    step("approve", "maren", LIVE, 0),
    step("save", "mei", LIVE, 0),
    step("publish", "maren", LIVE, 0),
  ),
  // An address that is brought in with a table before and after it is asked in, that two ask in, that has an account.
  sequence(
    false,
    step("bring people in by a table", "ines", LIVE, 0),
    step("ask a guest in", "maren", LIVE, 1),
    step("take an invitation up", "public", LIVE, 0),
  ),
  sequence(
    false,
    step("ask a guest in", "maren", LIVE, 2),
    step("bring people in by a table", "ines", LIVE, 0),
    step("take an invitation up", "public", LIVE, 0),
  ),
  sequence(
    false,
    step("ask a guest in", "maren", LIVE, 2),
    step("ask a guest in", "viktor", ELSEWHERE, 1),
    step("take an invitation up", "public", LIVE, 0),
    step("take an invitation up", "public", LIVE, 1),
  ),
  // What somebody else gave to whoever has the address, meanwhile.
  ...[0, 1].map((way) =>
    sequence(
      false,
      step("ask a guest in", "maren", LIVE, 2),
      step("give who was asked in more", "ines", LIVE, way),
      step("take an invitation up", "public", LIVE, 0),
    ),
  ),
  sequence(false, step("ask a guest in", "maren", LIVE, 0), step("take an invitation up", "public", LIVE, 0)),
  sequence(
    false,
    step("ask a guest in", "maren", LIVE, 2),
    step("end the invitation", "maren", LIVE, 0),
    step("take an invitation up", "public", LIVE, 0),
  ),
  // The end of a guest, by who let them in and by who keeps a space.
  sequence(false, step("take an end off", "maren", LIVE, 0, DORA), step("take an end off", "viktor", LIVE, 0, DORA)),
  // Rights that come back with what is taken back, and pages that come back elsewhere.
  sequence(false, step("grant", "maren", LIVE, 2), step("take a grant away", "ines", LIVE, 0), step("take back", "maren", LIVE, 0)),
  sequence(false, step("bin", "maren", LIVE, 0), step("restore", "viktor", LIVE, 1), step("take back", "lena", LIVE, 0)),
  sequence(false, step("fence", "maren", LIVE, 0), step("step in", "ines", LIVE, 0), step("move", "lena", LIVE, 0)),
  sequence(false, step("job", "maren", BELOW, 1), step("take back", "lena", LIVE, 0), step("restore", "mei", BELOW, 0)),
];

/** Acts of these that come to something, where all is well: else the ways would end before they lead anywhere. */
export const COME_TO_SOMETHING = [
  "archive",
  "ask a guest in",
  "ask for approval",
  "bin",
  "bring people in by a table",
  "fence",
  "give in",
  "give who was asked in more",
  "go live at a time",
  "grant",
  "job",
  "move",
  "save",
  "step in",
  "take an invitation up",
  "take down",
];
