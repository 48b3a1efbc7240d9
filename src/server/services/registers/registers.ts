/**
 * The registers: every place with rules of its own, every fence, what every group is granted, every stepping in; now or as of another
 * instant, where the asker may see rules today.
 */
import { and, desc, eq, lte, or } from "drizzle-orm";
import type {
  NamedByRules,
  RegisterExportQuery,
  RegisterFilter,
  RegisterPage,
  RegisterQuery,
  RegisterRow,
} from "../../../contracts/registers.ts";
import type { WhoMoved } from "../../../contracts/slip.ts";
import { GUEST, MEMBER, PUBLIC_CLASS, rowOfPlace } from "../../../core/access/decide/index.ts";
import { grantSentence, principalName } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, pathOf, placeOf } from "../../../core/access/index/index.ts";
import { type Principal, READ, type Seq } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { somebodyKnown } from "../../access/current.ts";
import { pauses } from "../../access/pauses.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { ledger } from "../../db/schema/index.ts";
import { wordsOf } from "../../ledger/words.ts";
import { pageOf } from "../../lists/whole.ts";
import { openSight, type Sight } from "../grid/sight.ts";
import { streamed } from "../programs/exports/formats.ts";
import { newestRules, rulesOf } from "./rules.ts";

const PAGE = 100;

/** What a row is made of before its rules are looked up. */
interface Draft {
  key: string;
  place: CompiledPlace;
  /** Of the register of groups: which, and the rule. */
  group?: { id: string; text: string };
  /** Of steppings in. */
  step?: { who: string; at: Date; until: string | null; reason: string; seq: Seq };
}

const nobody = (): WhoMoved => ({ outsiders: 0, guests: 0, members: 0 });

/** Who reads a place and not the one above, and the other way round; of a space, who reads it. By classes: passes are left out. */
function moved({ access: { index, at } }: Sight, place: CompiledPlace): { letsIn: WhoMoved; keepsOut: WhoMoved } {
  const [letsIn, keepsOut] = [nobody(), nobody()];
  const { row, tables } = rowOfPlace(index, place.number, at);
  const parent = index.places[place.parent];
  const above = parent && place.place.kind !== "space" && parent.place.kind !== "site" ? rowOfPlace(index, parent.number, at).row : null;
  for (let number = 0; number < row.length; number++) {
    const kind = tables.kinds[number];
    const count = number === PUBLIC_CLASS ? 1 : (tables.counts[number] as number);
    const which = number === PUBLIC_CLASS ? "outsiders" : kind === GUEST ? "guests" : kind === MEMBER ? "members" : null;
    if (which === null || count === 0) continue;
    const here = ((row[number] as number) & READ) !== 0;
    const there = above !== null && ((above[number] as number) & READ) !== 0;
    if (here && !there) letsIn[which] += count;
    if (there && !here) keepsOut[which] += count;
  }
  return { letsIn, keepsOut };
}

const namesKind = (to: Principal): NamedByRules => ("audience" in to ? to.audience : "group" in to ? "group" : "person");

const namedAt = ({ place }: CompiledPlace): Principal[] => [
  ...place.grants.map(({ to }) => to),
  ...place.fences.flatMap(({ admits }) => admits),
];

/** The places a register is about: what is in a place after it, beside each other by title. */
async function placesWith(sight: Sight, fits: (place: CompiledPlace) => boolean): Promise<CompiledPlace[]> {
  const pause = pauses();
  const found: CompiledPlace[] = [];
  for (const place of sight.access.index.places) {
    if (fits(place) && sight.tells(place)) found.push(place);
    await pause();
  }
  const { compare } = new Intl.Collator("en");
  const paths = new Map(
    found.map((place) => [place, pathOf(sight.access.index, place).map(({ place: it }) => [it.title ?? "", it.id] as const)]),
  );
  return found.sort((a, b) => {
    const [left, right] = [paths.get(a) ?? [], paths.get(b) ?? []];
    for (const [i, [title, id]] of left.entries()) {
      const other = right[i];
      if (!other) return 1;
      if (id !== other[1]) return compare(title, other[0]) || (id < other[1] ? -1 : 1);
    }
    return left.length - right.length;
  });
}

const hasRules = ({ place, fresh }: CompiledPlace): boolean =>
  fresh || place.grants.length > 0 || place.fences.length > 0 || (place.kind === "space" && place.ceilings !== undefined);

async function draftsOf(tx: Tx, sight: Sight, of: RegisterFilter["of"]): Promise<Draft[]> {
  const { names } = sight;
  switch (of) {
    case "rules":
      return (await placesWith(sight, hasRules)).map((place) => ({ key: place.place.id, place }));
    case "fences":
      return (await placesWith(sight, ({ place }) => place.fences.length > 0)).map((place) => ({ key: place.place.id, place }));
    case "groups": {
      const granting = await placesWith(sight, ({ place }) => place.grants.some(({ to }) => "group" in to));
      const drafts = granting.flatMap((place) =>
        place.place.grants.flatMap((grant, nth): Draft[] =>
          "group" in grant.to
            ? [{ key: `${place.place.id}:${nth}`, place, group: { id: grant.to.group, text: grantSentence(grant, names) } }]
            : [],
        ),
      );
      return drafts.sort((a, b) => names.group(a.group?.id ?? "").localeCompare(names.group(b.group?.id ?? "")));
    }
    case "steps":
      return steppedIn(tx, sight);
  }
}

/** Every stepping in: the kind that opens a page for an hour, and changes of rules by which an overseer let themselves in. */
async function steppedIn(tx: Tx, { access, names, tells }: Sight): Promise<Draft[]> {
  const rows = await tx
    .select({ seq: ledger.seq, at: ledger.at, maker: ledger.maker, places: ledger.places, detail: ledger.detail })
    .from(ledger)
    .where(and(lte(ledger.at, new Date(access.at)), or(eq(ledger.act, "stepIn"), eq(ledger.steppingIn, true))))
    .orderBy(desc(ledger.seq));
  const words = await wordsOf(
    tx,
    rows.map(({ seq }) => seq),
  );
  return rows.flatMap(({ seq, at, maker, places, detail }) =>
    places.flatMap((id): Draft[] => {
      const place = placeOf(access.index, id);
      if (!place || !tells(place)) return [];
      const who = maker === null ? "Tesoro" : names.person(maker);
      const until = typeof detail.until === "string" ? detail.until : null;
      return [{ key: `${seq}:${id}`, place, step: { who, at, until, reason: words.get(seq)?.reason ?? "", seq } }];
    }),
  );
}

function fitting(sight: Sight, drafts: readonly Draft[], { space, words, names: named }: RegisterFilter): Draft[] {
  const { access, names } = sight;
  const wanted = words?.trim().toLowerCase() ?? "";
  const inSpace = ({ place }: Draft) => space === undefined || access.index.places[place.space]?.place.id === space;
  const holds = ({ place, group, step }: Draft) => {
    if (wanted === "") return true;
    const texts = step ? [step.who, step.reason] : group ? [names.group(group.id)] : namedAt(place).map((to) => principalName(to, names));
    return [place.place.title ?? "", ...texts].some((text) => text.toLowerCase().includes(wanted));
  };
  const namesThem = ({ place }: Draft) => named === undefined || namedAt(place).some((to) => namesKind(to) === named);
  return drafts.filter((it) => inSpace(it) && holds(it) && namesThem(it));
}

const size = ({ outsiders, guests, members }: WhoMoved): number => outsiders * 1e9 + guests * 1e5 + members;

async function sorted(tx: Tx, sight: Sight, drafts: readonly Draft[], { of, sort = "where" }: RegisterFilter): Promise<Draft[]> {
  if (of === "steps" || sort === "where") return [...drafts];
  const weights = new Map<Draft, number>();
  if (sort === "when") {
    const newest = await newestRules(tx, sight);
    for (const it of drafts) weights.set(it, newest.get(it.place.place.id) ?? 0);
  } else {
    const pause = pauses();
    for (const it of drafts) {
      const { letsIn, keepsOut } = moved(sight, it.place);
      weights.set(it, size(sort === "in" ? letsIn : keepsOut));
      await pause();
    }
  }
  return [...drafts].sort((a, b) => (weights.get(b) ?? 0) - (weights.get(a) ?? 0));
}

const titleOf = ({ place: { kind, title } }: CompiledPlace): string => (kind === "site" ? "The whole site" : (title ?? ""));

async function rowsOf(tx: Tx, sight: Sight, page: readonly Draft[], of: RegisterFilter["of"]): Promise<RegisterRow[]> {
  const { access, names } = sight;
  const rules = await rulesOf(tx, sight, of === "steps" ? [] : [...new Set(page.map(({ place }) => place.place.id))]);
  return page.map(({ key, place, group, step }): RegisterRow => {
    const { id, kind } = place.place;
    const here = rules.get(id) ?? [];
    const which = group
      ? here.filter(({ text }) => text.replace(/ \(ended\)$/, "") === group.text)
      : of === "fences"
        ? here.filter((it) => it.kind === "fence")
        : here;
    const entry = step && { seq: step.seq, at: step.at.toISOString(), who: step.who, act: "Stepped in", note: step.reason };
    return {
      key,
      place: { id, name: titleOf(place), kind },
      path: pathOf(access.index, place)
        .slice(1, -1)
        .map((above) => (sight.sees(above) ? (above.place.title ?? "") : "…")),
      who: group ? names.group(group.id) : (step?.who ?? null),
      rules: step ? [{ text: step.reason, entry: entry ?? null }] : which.map(({ text, entry: it }) => ({ text, entry: it })),
      ...(step || group ? { letsIn: null, keepsOut: null } : moved(sight, place)),
      until: step?.until ?? null,
    };
  });
}

async function registered(tx: Tx, asker: string, filter: RegisterFilter) {
  const sight = await openSight(tx, asker, filter.at);
  const all = await draftsOf(tx, sight, filter.of);
  return { sight, all, fits: await sorted(tx, sight, fitting(sight, all, filter), filter) };
}

export const readRegisterHere = (asker: string, { after, ...filter }: RegisterQuery): Promise<RegisterPage> =>
  inSnapshot(async (tx) => {
    const { sight, all, fits } = await registered(tx, asker, filter);
    const { page, next } = pageOf(fits, after, PAGE, ({ key }) => key);
    const spaces = [...new Set(all.map(({ place }) => place.space))].flatMap((number) => {
      const space = sight.access.index.places[number];
      return space?.place.kind === "space" && sight.sees(space) ? [{ id: space.place.id, name: space.place.title ?? "" }] : [];
    });
    return { rows: await rowsOf(tx, sight, page, filter.of), next, total: fits.length, spaces };
  });

/** A page of a register. All of it is looked at for that: on a large site aside. */
export const readRegister = ofWholeSite("readRegisterHere", somebodyKnown, readRegisterHere);

const HEAD = ["place", "id", "in", "who", "rule", "by", "at", "entry", "note", "lets in", "keeps out", "until"];
const AT_ONCE = 500;

const counted = (it: WhoMoved | null): string => (it ? `${it.outsiders} public, ${it.guests} guests, ${it.members} members` : "");

/** All of it that fits, a line for each rule. */
export const registerLinesHere = (asker: string, filter: RegisterFilter): Promise<string[][]> =>
  inSnapshot(async (tx) => {
    const { sight, fits } = await registered(tx, asker, filter);
    const lines: string[][] = [];
    for (let i = 0; i < fits.length; i += AT_ONCE)
      for (const { place, path, who, rules, letsIn, keepsOut, until } of await rowsOf(tx, sight, fits.slice(i, i + AT_ONCE), filter.of))
        for (const { text, entry } of rules)
          lines.push([
            place.name,
            place.id,
            path.join(" / "),
            who ?? "",
            text,
            entry?.who ?? "",
            entry?.at ?? "",
            String(entry?.seq ?? ""),
            entry?.note ?? "",
            counted(letsIn),
            counted(keepsOut),
            until ?? "",
          ]);
    return lines;
  });

const registerLines = ofWholeSite("registerLinesHere", somebodyKnown, registerLinesHere);

export async function exportRegister(asker: string, { format, ...filter }: RegisterExportQuery): Promise<Response> {
  const lines = await registerLines(asker, filter);
  return streamed(format, `register-${filter.of}`, HEAD, lines, () => lines.length);
}
