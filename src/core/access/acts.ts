/** The table of acts (access-model.md, section 6a): what single edits need, whatever they lead to. */
import { ADD, ADMIT, ARRANGE, DISCUSS, GOVERN, maskOf, NOTHING, PUBLISH, READ, RETIRE, REVISE } from "./abilities.ts";
import type { Edit, PlaceEdit } from "./edits.ts";
import { type Judge, lackingMessage } from "./judge.ts";

interface Surroundings {
  /** Places that the same change starts. */
  started: ReadonlySet<string>;
  /** Groups whose members the maker manages. */
  manages: ReadonlySet<string>;
}

type Of<K extends Edit["kind"]> = Extract<Edit, { kind: K }>;

/** What a helper on an unpublished page gets at most. */
const HELPER_LIMIT = READ | DISCUSS | REVISE;

/** Refuses what the maker of a change may not do at all. */
export function judgeAct(judge: Judge, edit: Edit, { started, manages }: Surroundings): void {
  const siteKeepersOnly = (message: string) => {
    if (!judge.keepsSite) judge.refuse({ code: "notAllowed", message });
  };
  switch (edit.kind) {
    case "start":
      if (!(judge.standing(edit.parent).set & ADD))
        judge.refuse({ code: "notAllowed", place: edit.parent, message: "You may not add pages here." });
      return;
    case "person":
      siteKeepersOnly("Only site keepers let people in, suspend them or change what kind they are.");
      return;
    case "group":
      siteKeepersOnly("Only site keepers make groups and take them away.");
      return;
    case "member":
      if (manages.has(edit.group)) return;
      siteKeepersOnly("Only site keepers, and those they name for a group, change who is in it.");
      return;
    case "pledge":
      siteKeepersOnly("Only site keepers make and change pledges.");
      return;
    case "pass":
      needAdmit(judge, (edit.put ?? edit.remove)?.place ?? "", "You may not make or revoke passes here: that needs Keeper, or oversight.");
      return;
    default:
      if (started.has(edit.place))
        judge.refuse({ code: "notAllowed", place: edit.place, message: "A page is started first and changed in a step of its own." });
      else actAtPlace(judge, edit);
  }
}

function needAdmit(judge: Judge, place: string, message: string): void {
  const { set, oversight } = judge.standing(place);
  if (!oversight && !(set & ADMIT)) judge.refuse({ code: "notAllowed", place, message });
}

function actAtPlace(judge: Judge, edit: PlaceEdit): void {
  switch (edit.kind) {
    case "state":
      stateChange(judge, edit);
      return;
    case "move":
      move(judge, edit);
      return;
    case "owner": {
      if (judge.owns(judge.standing(edit.place).place)) return;
      needAdmit(judge, edit.place, "You may not hand this over: that needs Keeper, oversight, or being its owner.");
      return;
    }
    case "tags":
      tags(judge, edit);
      return;
    case "ceilings":
      if (!judge.standing(edit.place).oversight)
        judge.refuse({ code: "onlyOverseers", place: edit.place, message: "Only those with oversight change ceilings." });
      return;
    default:
      ruleChange(judge, edit);
  }
}

function ruleChange(judge: Judge, edit: Of<"grant" | "fence" | "stance">): void {
  const { set, oversight, place } = judge.standing(edit.place);
  const helpers = edit.kind === "grant" && place?.unpublished === true && judge.owns(place) && isHelperEdit(edit, set);
  if (!helpers) needAdmit(judge, edit.place, "You may not change who has access here: that needs Keeper, or oversight.");
  if (edit.kind !== "grant" || !edit.put || oversight) return;
  const put = maskOf(edit.put.abilities);
  if (put & GOVERN)
    judge.refuse({ code: "onlyOverseers", place: edit.place, message: "Only those with oversight of a place grant Keeper there." });
  const beyond = put & ~set & ~(edit.remove ? maskOf(edit.remove.abilities) : NOTHING);
  if (beyond) judge.refuse({ code: "givesMoreThanHeld", place: edit.place, message: lackingMessage(beyond) });
}

/** An owner lets named people into a draft, with no more than the owner holds (table, "let named people into …"). */
const isHelperEdit = (edit: Of<"grant">, held: number): boolean =>
  [edit.put, edit.remove].every(
    (grant) => !grant || (grant.draft === true && "person" in grant.to && !(maskOf(grant.abilities) & ~(HELPER_LIMIT & held))),
  );

function stateChange(judge: Judge, edit: Of<"state">): void {
  const { set, oversight, place } = judge.standing(edit.place);
  const gone = (state: string) => state === "archived" || state === "binned";
  const ownDraft = judge.owns(place) && place?.unpublished === true;
  if (gone(edit.from.state) || gone(edit.to.state)) {
    if (oversight || set & RETIRE || ownDraft) return;
    judge.refuse({
      code: "notAllowed",
      place: edit.place,
      message: "You may not archive, bin or restore this: that needs Publisher, or oversight.",
    });
    return;
  }
  const above = place?.place.parent === undefined ? NOTHING : judge.standing(place.place.parent).set;
  if (set & PUBLISH || (ownDraft && above & PUBLISH)) return;
  judge.refuse({ code: "notAllowed", place: edit.place, message: "You may not publish or take down this: that needs Publisher." });
}

function move(judge: Judge, edit: Of<"move">): void {
  if (!(judge.standing(edit.place).set & ARRANGE))
    judge.refuse({ code: "notAllowed", place: edit.place, message: "You may not move this: that needs Publisher." });
  if (!(judge.standing(edit.to).set & ADD))
    judge.refuse({ code: "notAllowed", place: edit.to, message: "You may not add pages where this would go: that needs Writer there." });
}

function tags(judge: Judge, edit: Of<"tags">): void {
  const watched = new Set(judge.before.document.pledges.map(({ where }) => where.tag));
  const changed = [...edit.from, ...edit.to].filter((tag) => !(edit.from.includes(tag) && edit.to.includes(tag)));
  if (changed.some((tag) => watched.has(tag)))
    needAdmit(judge, edit.place, "A pledge goes by this tag: changing it needs Keeper, or oversight.");
  else if (!(judge.standing(edit.place).set & REVISE))
    judge.refuse({ code: "notAllowed", place: edit.place, message: "You may not change tags here: that needs Writer." });
}
