/** Sentences from explanations and rules: the one place where access is put into words (access-model.md, section 7). */

import { type Cell, OVERSEES, SET_OF_CELL } from "../decide/index.ts";
import { type AccessIndex, placeOf, subjectOf } from "../index/index.ts";
import {
  type Ability,
  abilitiesIn,
  type Ceilings,
  type ContentsEntry,
  describeSet,
  type Edit,
  type Fence,
  type Grant,
  type Held,
  type HouseRules,
  houseRuleWords,
  type Manager,
  maskOf,
  type Pass,
  type Pledge,
  type Principal,
  type SpaceContents,
  type SpaceSettings,
  type StateMark,
  sameValue,
} from "../model/index.ts";
import type { Explanation, Step } from "./explain.ts";
import { reviewSentence } from "./reviewSentences.ts";

/** Gives the names of things; what the asker may not know of comes back as a description. */
export interface Names {
  place(id: string): string;
  person(id: string): string;
  group(id: string): string;
}

/** Things by the names the document gives them, else by id: for whoever may know everything. */
export function documentNames(index: AccessIndex): Names {
  const group = (id: string) => index.document.groups.find((it) => it.id === id);
  return {
    place: (id) => `“${placeOf(index, id)?.place.title ?? id}”`,
    person: (id) => subjectOf(index, { person: id })?.person?.name ?? id,
    group: (id) => group(id)?.name ?? id,
  };
}

/** A cell in words: the level, the abilities, and whether there is oversight. */
export function cellWords(cell: Cell): [level: string, abilities: string, oversight: string] {
  const set = cell & SET_OF_CELL;
  return [describeSet(set), abilitiesIn(set).join(" "), cell & OVERSEES ? "yes" : ""];
}

/** What an ability lets one do, and the words that lead to the place: "comment" + "on", "read" + "". */
const ABILITY_PHRASES: Record<Ability, [does: string, to: string]> = {
  read: ["read", ""],
  discuss: ["comment", "on "],
  revise: ["write", ""],
  add: ["add pages", "in "],
  publish: ["publish", ""],
  arrange: ["move and rename", ""],
  retire: ["archive and bin", ""],
  admit: ["change who has access", "to "],
  govern: ["govern", ""],
};

export const abilityPhrase = (ability: Ability): string => ABILITY_PHRASES[ability][0];

export function principalName(principal: Principal, names: Names): string {
  if ("audience" in principal) {
    return { public: "the public", accounts: "everybody signed in", members: "all members" }[principal.audience];
  }
  return "group" in principal ? names.group(principal.group) : names.person(principal.person);
}

const list = (items: string[]): string =>
  items.length === 0 ? "nobody" : items.length === 1 ? (items[0] as string) : `${items.slice(0, -1).join(", ")} and ${items.at(-1)}`;

/**
 * "all members are Reader", "Pilots are Writer until 2027-01-01T00:00:00.000Z". Instants stand in sentences whole, here
 * and below: which day one falls on is for whoever shows it to say.
 */
export function grantSentence(grant: Grant, names: Names): string {
  const until = grant.until ? ` until ${grant.until}` : "";
  const verb = "person" in grant.to ? "is" : "are";
  return `${principalName(grant.to, names)} ${verb} ${describeSet(maskOf(grant.abilities))}${until}${grant.draft ? ", also before it is live" : ""}`;
}

export function fenceSentence(fence: Fence, names: Names): string {
  const what = fence.kind === "read" ? "only these may enter" : "only these may do more than read and comment";
  return `${what}: ${list(fence.admits.map((principal) => principalName(principal, names)))}`;
}

function stepSentence(step: Step, names: Names): string {
  switch (step.layer) {
    case "status":
      return "The account is suspended or has ended, so it has no access anywhere.";
    case "fences":
      return `A ${step.fence.kind} fence on ${names.place(step.place)} does not admit them (${fenceSentence(step.fence, names)}).`;
    case "ceilings":
      return step.which === "passes"
        ? `${names.place(step.place)} does not allow passes.`
        : `The ceiling for ${step.which} on ${names.place(step.place)} does not go that far.`;
    case "state":
      return step.state === "unpublished"
        ? `${names.place(step.place)} is not published; only its owner, its writers and those let into the draft get in.`
        : `${names.place(step.place)} is ${step.state}.`;
    case "grants":
      return grantStepSentence(step, names);
  }
}

function grantStepSentence(step: Extract<Step, { layer: "grants" }>, names: Names): string {
  if (step.effect === "gives") {
    if (step.rule === "ownDraft") return `They own this draft of ${names.place(step.place)}.`;
    if (step.rule === "pass") return `They hold a pass for ${names.place(step.place)}.`;
    return `A grant on ${names.place(step.place)} says that ${grantSentence(step.grant, names)}.`;
  }
  const cut = step.cutOff.map(
    ({ place, by, grant }) => ` On ${names.place(place)} ${grantSentence(grant, names)}, but ${names.place(by)} starts fresh.`,
  );
  const ended = step.ended.map(({ place, grant }) => ` A grant on ${names.place(place)} ended at ${grant.until ?? ""}.`);
  return `No grant gives it.${cut.join("")}${ended.join("")}`;
}

export interface ExplanationText {
  /** One sentence that is the whole answer. */
  answer: string;
  /** One sentence for each step, in order. */
  steps: string[];
}

/** Puts an explanation into words. `who` is how the subject is called, as in "The public" or "Ines Carvalho". */
export function explanationText(it: Explanation, who: string, names: Names): ExplanationText {
  const steps = it.steps.map((step) => stepSentence(step, names));
  const verb = it.answer ? "can" : "cannot";
  const because = steps[0] ? ` ${steps[0]}` : "";
  return { answer: `${who} ${verb} ${ABILITY_PHRASES[it.ability].join(" ").trim()} ${names.place(it.place)}.${because}`, steps };
}

const swapSentence = (what: string, removed: string | null, added: string | null): string => {
  if (removed === null) return `${what} added: ${added}`;
  return added === null ? `${what} taken away: ${removed}` : `${what} changed: ${added} (before: ${removed})`;
};

const MOST_ENTRIES_TOLD = 6;

/** What came into the contents of a space and what went; as far as words were not erased and pages may be named. */
function contentsSentence({ remove, put }: { remove?: Partial<SpaceContents>; put?: Partial<SpaceContents> }, names: Names): string {
  const [before, after] = [remove?.entries ?? [], put?.entries ?? []];
  const words = (entry: ContentsEntry) => {
    if ("page" in entry) return names.place(entry.page);
    return "heading" in entry ? `“${entry.heading}”` : `“${entry.words}” (${entry.link})`;
  };
  const told = (what: string, list: readonly ContentsEntry[], others: readonly ContentsEntry[]) => {
    const own = list.filter((entry) => !others.some((it) => sameValue(it, entry))).map(words);
    const more = own.length > MOST_ENTRIES_TOLD ? `, ${own.length - MOST_ENTRIES_TOLD} more` : "";
    return own.length === 0 ? "" : `${what} ${own.slice(0, MOST_ENTRIES_TOLD).join(", ")}${more}`;
  };
  const rest = put?.rest === false ? "nothing else" : "its pages in no entry below them";
  const parts = [told("with", after, before), told("without", before, after), remove?.rest === put?.rest ? "" : rest].filter(Boolean);
  return `contents: ${parts.join("; ") || "in another order"}`;
}

const stateName = (mark: StateMark): string => (mark.state === "draft" ? "a draft" : mark.state);

const setWords = (abilities: readonly Ability[] | undefined): string =>
  abilities === undefined ? "as the site" : describeSet(maskOf(abilities));

/** "outsiders Reader, guests Writer, passes allowed"; what a space does not set is as the site has it. */
function ceilingsSentence(it: Ceilings | null): string {
  const passes = it?.passes === undefined ? "as the site" : it.passes ? "allowed" : "not allowed";
  return `outsiders ${setWords(it?.outsiders)}, guests ${setWords(it?.guests)}, passes ${passes}`;
}

const passSentence = (it: Pass): string =>
  `${it.revoked ? "revoked" : "open"}${it.below ? ", with what is below" : ""}${it.until ? ` until ${it.until}` : ""}`;

/** "outsiders never read in “House rules”": what a pledge says. */
export function pledgeSentence(pledge: Pledge, names: Names): string {
  const { who, where } = pledge;
  const covered = "class" in who ? who.class : "group" in who ? names.group(who.group) : names.person(who.person);
  const parts = [
    where.space === undefined ? "" : `in ${names.place(where.space)}`,
    where.subtree === undefined ? "" : `below ${names.place(where.subtree)}`,
    where.tag === undefined ? "" : `tagged ${where.tag}`,
    where.state === undefined ? "" : `while ${where.state}`,
  ].filter(Boolean);
  return `${covered} ${pledge.rule} ${ABILITY_PHRASES[pledge.ability].join(" ").trim()} ${parts.length > 0 ? parts.join(", ") : "anywhere"}`;
}

const HELD_WORDS: Readonly<Record<Held, string>> = {
  passes: "passes answered for by",
  invitations: "guests and invitations answered for by",
  tokens: "tokens answered for by",
  schedules: "schedules of",
  flags: "flags to be answered by",
  submissions: "what was given in for approval by",
  drafts: "private drafts of",
  managed: "groups managed by",
  routines: "routines that run as",
};

const settingsWords = ({ name, address, purpose, history, indexed, approval, review, flags }: SpaceSettings): string =>
  [
    name,
    `at ${address}`,
    purpose,
    history ? "older live versions can be read" : "",
    indexed === false ? "search engines are asked not to list it" : "",
    approval ? "what is published is approved first" : "",
    review ? `its pages are looked at again every ${review} days` : "",
    flags ? "readers who are no members can flag its pages" : "",
  ]
    .filter(Boolean)
    .join(", ");

/** What an edit does, as in "grant added: Pilots are Writer". The place it stands at is named by the caller. */
export function editSentence(edit: Edit, names: Names): string {
  const swap = <T>(what: string, it: { remove?: T; put?: T }, words: (value: T) => string) =>
    swapSentence(what, it.remove ? words(it.remove) : null, it.put ? words(it.put) : null);
  switch (edit.kind) {
    case "grant":
      return swap("grant", edit, (it) => grantSentence(it, names));
    case "fence":
      return swap(`${(edit.put ?? edit.remove)?.kind ?? ""} fence`, edit, (it) => fenceSentence(it, names));
    case "stance":
      return edit.to === "fresh" ? "starts fresh: what is granted above stops here" : "follows what is granted above again";
    case "state":
      return `${stateName(edit.from)} → ${stateName(edit.to)}`;
    case "start":
      return `${edit.as} started as a draft`;
    case "owner":
      return `owner: ${edit.to ? names.person(edit.to) : "nobody"} (before: ${edit.from ? names.person(edit.from) : "nobody"})`;
    case "tags":
      return `tags: ${edit.to.join(", ") || "none"} (before: ${edit.from.join(", ") || "none"})`;
    case "move":
      return `moved from ${names.place(edit.from)} to ${names.place(edit.to)}`;
    case "order":
      return "another place among the pages beside it";
    case "landing":
      return `landing page: ${edit.to ? names.place(edit.to) : "none"} (before: ${edit.from ? names.place(edit.from) : "none"})`;
    case "readiness":
      return `readiness: ${edit.to ?? "none"} (before: ${edit.from ?? "none"})`;
    case "reviewPeriod":
    case "reviewed":
    case "flag":
      return reviewSentence(edit, names);
    case "readinessWords":
      return `words of readiness: ${edit.to.join(", ") || "none"} (before: ${edit.from.join(", ") || "none"})`;
    case "arranged":
      return edit.to === "name" ? "its pages stand by name" : "its pages stand in an order by hand";
    case "settings":
      return swap("settings", edit, settingsWords);
    case "contents":
      return contentsSentence(edit, names);
    case "erase":
      return "erased";
    case "ceilings":
      return `ceilings: ${ceilingsSentence(edit.to)} (before: ${ceilingsSentence(edit.from)})`;
    case "pass":
      return swap("pass", edit, passSentence);
    case "person":
      return swap(names.person(edit.person), edit, (it) => `${it.kind}, ${it.status}`);
    case "group":
      return swap("group", edit, (it) => it.name ?? it.id);
    case "member":
      return swap(`member of ${names.group(edit.group)}`, edit, (it) => principalName(it, names));
    case "handOver":
      return `${edit.ids.length} ${HELD_WORDS[edit.what]}: ${names.person(edit.to)} (before: ${names.person(edit.from)})`;
    case "managers": {
      const told = (list: readonly Manager[]) =>
        list.map(({ person, guests }) => names.person(person) + (guests ? " (guests, too)" : "")).join(", ") || "nobody";
      return `${names.group(edit.group)} managed by ${told(edit.to)} (before: ${told(edit.from)})`;
    }
    case "house":
      return (Object.keys(edit.to) as (keyof HouseRules)[]).map((rule) => houseRuleWords(rule, edit.to)).join("; ");
    case "pledge":
      return swap("pledge", edit, (it) => pledgeSentence(it, names));
  }
}

/** Edits with what each does and where, as they are offered for the tray. */
export const withSentences = (edits: Edit[], names: Names): { edits: Edit[]; sentences: string[] } => ({
  edits,
  sentences: edits.map((edit) => ("place" in edit ? `${names.place(edit.place)}: ` : "") + editSentence(edit, names)),
});
