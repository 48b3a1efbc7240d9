/** What single edits are, in the table of acts (`acts.ts`), and what their maker may not do at all, whatever they lead to. */

import { subjectOf } from "../index/index.ts";
import {
  actBetween,
  type Edit,
  flagStep,
  GOVERN,
  isOpen,
  maskOf,
  NOTHING,
  type PlaceEdit,
  principalKey,
  type StateAct,
  sameValue,
} from "../model/index.ts";
import { HELPER_LIMIT } from "../workbench/index.ts";
import { may } from "./acts.ts";
import { forbiddenFields, takesEndOff } from "./fields.ts";
import { type Judge, lackingMessage } from "./judge.ts";

type Of<K extends Edit["kind"]> = Extract<Edit, { kind: K }>;

interface Surroundings {
  /** Places that the same change starts. */
  started: ReadonlySet<string>;
  /** Those of them that are spaces, and what is started in these. */
  inNewSpace: ReadonlySet<string>;
  /** Places that the same change moves, and where to. */
  moved: ReadonlyMap<string, string>;
  /** Places that the same change makes live for the first time, or again: helpers on them leave. */
  published: ReadonlySet<string>;
  /** Edits that follow from an act by itself: only their outcome is judged. */
  follows: ReadonlySet<Edit>;
  /** Groups whose members the maker manages. */
  manages: Managed;
  guests: Guests;
  /** Grants that the same change takes away. */
  taken: readonly Of<"grant">[];
  /** Where the same change grants something to whom it brings in, by person. */
  grantedTo: ReadonlyMap<string, readonly string[]>;
}

/** Groups somebody manages, and whether guests in them, too (access-model.md, 6a). */
export type Managed = ReadonlyMap<string, { guests: boolean }>;

/** What the maker may do about guests besides what the table gives everybody (access-model.md, 6a, "bring in a guest"). */
export interface Guests {
  /** The house rules let Keepers of places bring them in. */
  allowed: boolean;
  /** Guests whom the maker brought in. */
  mine: ReadonlySet<string>;
}

/** Refuses what the maker of a change may not do at all. */
export function judgeAct(judge: Judge, edit: Edit, surroundings: Surroundings) {
  if (surroundings.follows.has(edit)) return;
  const forbidden = forbiddenFields(edit);
  if (forbidden.length > 0) judge.refuse({ code: "notAllowed", message: `Nobody sets this: ${forbidden.join(", ")}.` });
  switch (edit.kind) {
    case "start":
      if (edit.as === "space") return judge.need("makeSpace", null);
      // A copy with all that is below it: what stands above was judged where it starts.
      if (surroundings.started.has(edit.parent)) return;
      return judge.need("start", edit.parent, { there: judge.standing(edit.parent).set });
    case "person":
      return person(judge, edit, surroundings);
    case "house":
      return judge.need("changeHouse", null);
    case "handOver":
      return judge.need("changePeople", null);
    case "group":
      return judge.need("changeGroups", null);
    case "managers":
      return judge.need("changeGroups", null);
    case "member":
      return judge.need("changeMembers", null, { theirs: isMandated(judge, edit, surroundings.manages) });
    case "pledge":
      return judge.need("changePledges", null);
    case "pass":
      return judge.need("changePasses", (edit.put ?? edit.remove)?.place ?? "");
    default:
      // Whoever makes a space says at once how open it is, and what stands in it.
      if (surroundings.inNewSpace.has(edit.place)) judge.need("makeSpace", null);
      else if (surroundings.started.has(edit.place))
        judge.refuse({ code: "notAllowed", place: edit.place, message: "A page is started first and changed in a step of its own." });
      else actAtPlace(judge, edit, surroundings);
  }
}

/**
 * A guest comes in until some day, with grants at places where their host admits people; their end is moved by their host, and
 * taken off by nobody but a site keeper; all else is for site keepers.
 */
function person(judge: Judge, edit: Of<"person">, { guests, grantedTo }: Surroundings): void {
  const { person: id, remove, put } = edit;
  if (!remove && put?.kind === "guest" && put.status === "active" && put.until != null && guests.allowed) {
    const places = grantedTo.get(id) ?? [];
    for (const place of places) judge.need("bringInGuest", place, { allowed: true });
    if (places.length > 0) return;
  }
  const { until: _, ...before } = remove ?? {};
  const { until: __, ...after } = put ?? {};
  if (remove?.kind === "guest" && sameValue(before, after) && !takesEndOff(edit))
    judge.need("moveEndOfGuest", null, { theirs: guests.mine.has(id) });
  else judge.need("changePeople", null);
}

/** Whether the maker's mandate for a group covers this: people alone, never themselves, guests in only where it says so. */
export function isMandated({ before, maker }: Judge, { group, put, remove }: Of<"member">, manages: Managed): boolean {
  const mandate = manages.get(group);
  const all = [put, remove].flatMap((it) => (it ? [it] : []));
  if (!mandate || all.some((it) => !("person" in it) || it.person === maker.person?.id)) return false;
  const comes = put && "person" in put ? subjectOf(before, { person: put.person }) : undefined;
  // Whoever is not here yet is let in by others.
  if (put && !comes) return false;
  return comes?.class !== "guests" || mandate.guests;
}

function actAtPlace(judge: Judge, edit: PlaceEdit, surroundings: Surroundings) {
  switch (edit.kind) {
    case "state":
      return stateChange(judge, edit, surroundings);
    case "move":
      judge.need("move", edit.place);
      return judge.need("moveInto", edit.to, { there: judge.standing(edit.to).set });
    case "order":
      return order(judge, edit, surroundings);
    case "owner":
      return judge.need("handOver", edit.place);
    case "tags":
      return tags(judge, edit);
    case "landing":
    case "readinessWords":
    case "arranged":
    case "settings":
    case "contents":
      return judge.need("changeSpace", edit.place);
    case "readiness":
      return judge.need("tag", edit.place);
    case "reviewPeriod":
      return judge.need("setPeriod", edit.place);
    case "reviewed":
      return judge.need("confirm", edit.place);
    case "flag":
      flag(judge, edit);
      return;
    case "erase":
      return judge.need(judge.standing(edit.place).place?.place.kind === "space" ? "eraseSpace" : "erase", edit.place);
    case "ceilings":
      return judge.need("changeCeilings", edit.place, undefined, "onlyOverseers");
    default:
      return ruleChange(judge, edit, surroundings);
  }
}

/** Whether a grant is to a guest by name. */
function isOfGuest({ before }: Judge, { put }: Of<"grant">): boolean {
  return put !== undefined && "person" in put.to && subjectOf(before, put.to)?.class === "guests";
}

/** Whether what a guest is granted anew has no end, where what it stands for had one; also in two edits of one change. */
function losesItsEnd(edit: Of<"grant">, taken: readonly Of<"grant">[]): boolean {
  if (!edit.put || edit.put.until != null) return false;
  const key = principalKey(edit.put.to);
  const before = [...(edit.remove ? [edit] : []), ...taken.filter((it) => it.place === edit.place)];
  return before.some(({ remove }) => remove?.until != null && principalKey(remove.to) === key);
}

function ruleChange(judge: Judge, edit: Of<"grant" | "fence" | "stance">, { published, taken }: Surroundings): void {
  if (edit.kind === "grant" && published.has(edit.place) && edit.remove?.draft && !edit.put) return;
  const { set, oversight } = judge.standing(edit.place);
  const helpers = edit.kind === "grant" && isHelperEdit(edit, set) && may("letHelpersIn", judge.standing(edit.place)) === null;
  if (!helpers) judge.need("changeRules", edit.place);
  if (edit.kind === "grant" && isOfGuest(judge, edit) && losesItsEnd(edit, taken)) judge.need("takeEndOff", edit.place);
  if (edit.kind !== "grant" || !edit.put || oversight) return;
  const put = maskOf(edit.put.abilities);
  if (put & GOVERN)
    judge.refuse({ code: "onlyOverseers", place: edit.place, message: "Only those with oversight of a place grant Keeper there." });
  const beyond = put & ~set & ~(edit.remove ? maskOf(edit.remove.abilities) : NOTHING);
  if (beyond) judge.refuse({ code: "givesMoreThanHeld", place: edit.place, message: lackingMessage(beyond) });
}

/** Named people let into a draft, with no more than who lets them in holds (table, "let named people into …"). */
const isHelperEdit = (edit: Of<"grant">, held: number): boolean =>
  [edit.put, edit.remove].every(
    (grant) => !grant || (grant.draft === true && "person" in grant.to && !(maskOf(grant.abilities) & ~(HELPER_LIMIT & held))),
  );

const PUBLISHES: ReadonlySet<StateAct> = new Set(["publish", "schedule", "unschedule", "takeDown"]);

function stateChange(judge: Judge, edit: Of<"state">, { moved }: Surroundings) {
  const { place } = judge.standing(edit.place);
  const to = moved.get(edit.place);
  const facts = to === undefined ? undefined : { moves: true, there: judge.standing(to).set };
  const kind = place?.place.kind ?? "page";
  const act = actBetween(kind, edit.from, edit.to);
  // Where nothing leads, whoever may not publish learns no more than that.
  if (act === null || PUBLISHES.has(act)) return judge.need("publish", edit.place, facts);
  return judge.need(kind === "space" ? "retireSpace" : "retire", edit.place);
}

/** A flag is raised by who may, answered by who is to, taken back by who raised it while nobody answered. */
function flag(judge: Judge, { place, remove, put }: Of<"flag">): void {
  const { maker } = judge;
  const step = flagStep(remove, put);
  if (step === "raise") {
    judge.need("raiseFlag", place, { allowed: true });
    return;
  }
  const own = maker.person !== null && remove?.by === maker.person.id && step === "withdraw" && isOpen(remove);
  const theirs = maker.person !== null && (remove?.to ?? judge.standing(place).place?.place.owner) === maker.person.id;
  if (!own) judge.need("settleFlag", place, { theirs });
}

/** Its place among its siblings; where it moves as well, the destination is judged with that. */
function order(judge: Judge, edit: Of<"order">, { moved }: Surroundings): void {
  judge.need("move", edit.place);
  const parent = judge.standing(edit.place).place?.place.parent ?? null;
  if (!moved.has(edit.place)) judge.need("moveInto", edit.place, { there: judge.standing(parent).set });
}

function tags(judge: Judge, edit: Of<"tags">): void {
  const watched = new Set(judge.before.document.pledges.map(({ where }) => where.tag));
  const changed = [...edit.from, ...edit.to].filter((tag) => !(edit.from.includes(tag) && edit.to.includes(tag)));
  judge.need("tag", edit.place, { pledged: changed.some((tag) => watched.has(tag)) });
}
