/**
 * The table of acts (access-model.md, section 6a): who may do what, one row for each line there, in its order. Services
 * refuse by it and views show by it, so that nothing is offered that would be refused. What stands over all acts, whatever
 * the table says, is in `policy.ts`.
 */
import { type AbilitySet, ADD, ADMIT, ARRANGE, DISCUSS, NOTHING, PUBLISH, READ, RETIRE, REVISE } from "../model/index.ts";

/** How somebody stands towards what an act is about. Facts that an act does not ask for may be left out. */
export interface Standing {
  /** What they hold at the place. */
  set: AbilitySet;
  /** They oversee the place. */
  oversight: boolean;
  /** They oversee it by a `govern` that stands on its space or on the site. */
  governs?: boolean;
  keepsSite: boolean;
  member: boolean;
  signedIn: boolean;
  /** They own the page, as a member. */
  owns?: boolean;
  unpublished?: boolean;
  /** What they hold where it is to stand: the place above, the destination. */
  there?: AbilitySet;
  /** The act also moves the page to another place. */
  moves?: boolean;
  /** It is theirs by name: their comment, a flag for them to answer, a job they started, a token with the scope. */
  theirs?: boolean;
  /** The space lets readers do it: flags, its history, guests brought in. */
  allowed?: boolean;
  /** A pledge goes by the tag. */
  pledged?: boolean;
  /** Minutes since whoever has the pen last wrote. */
  idleMinutes?: number;
}

type Rule = (it: Standing) => boolean;

const holds =
  (ability: AbilitySet): Rule =>
  ({ set }) =>
    (set & ability) !== NOTHING;
const holdsThere =
  (ability: AbilitySet): Rule =>
  ({ there = NOTHING }) =>
    (there & ability) !== NOTHING;
const all =
  (...rules: Rule[]): Rule =>
  (it) =>
    rules.every((rule) => rule(it));
const any =
  (...rules: Rule[]): Rule =>
  (it) =>
    rules.some((rule) => rule(it));

const oversees: Rule = ({ oversight }) => oversight;
const governs: Rule = (it) => it.governs === true;
const siteKeeper: Rule = ({ keepsSite }) => keepsSite;
const member: Rule = (it) => it.member;
const signedIn: Rule = (it) => it.signedIn;
const theirs: Rule = (it) => it.theirs === true;
const allowed: Rule = (it) => it.allowed === true;
const owner: Rule = (it) => it.owns === true;
const ownDraft: Rule = (it) => it.owns === true && it.unpublished === true;
const admits = any(holds(ADMIT), oversees);

/** Publishing: by `publish` on the page or, of an unpublished one, by its owner with `publish` where it will stand; and `add` there if it moves. */
const publishes = all(
  any(holds(PUBLISH), all(ownDraft, holdsThere(PUBLISH))),
  any(({ moves }) => moves !== true, holdsThere(ADD)),
);

interface Row {
  /** The acts of the line, as section 6a says them. */
  line: string;
  acts: Record<string, { rule: Rule; refusal: string }>;
}

const act = (rule: Rule, refusal: string) => ({ rule, refusal });
const HOUSE = "This is for site keepers.";

export const TABLE = [
  {
    line: "read a live page and the files its live version shows",
    acts: { read: act(holds(READ), "You may not read this.") },
  },
  {
    line: "open a working version, older versions, compare",
    acts: {
      openWorking: act(holds(REVISE), "You may read this, but not its working version: that needs Writer."),
      openOlderLive: act(any(holds(REVISE), all(holds(READ), allowed)), "Older versions are not shown to readers here."),
    },
  },
  {
    line: "comment · settle a comment · hide it · remove another's",
    acts: {
      comment: act(holds(DISCUSS), "You may not comment here: that needs Commenter."),
      settleComment: act(any(theirs, holds(REVISE)), "Comments are settled by who wrote them, or by Writers."),
    },
  },
  {
    line: "raise a flag · settle it · confirm a page",
    acts: {
      raiseFlag: act(all(holds(READ), any(member, allowed)), "Flags are raised by members who may read this."),
      settleFlag: act(any(theirs, holds(REVISE)), "This flag is for somebody else to answer, or for Writers."),
      confirm: act(any(owner, holds(REVISE)), "A page is confirmed by its owner, or by Writers."),
      seeSensitiveFlag: act(any(holds(REVISE), admits), "There is nothing here, or it is not open to you."),
    },
  },
  {
    line: "take the pen from another",
    acts: {
      takePen: act(
        any(
          all(holds(REVISE), ({ idleMinutes = 0 }) => idleMinutes >= 2),
          owner,
          holds(PUBLISH),
        ),
        "The pen can be taken after two idle minutes, or at once by the owner or a Publisher.",
      ),
    },
  },
  {
    line: "copy a page (text one may read, as an own draft; no rules, passes or versions)",
    acts: { copy: act(all(holds(READ), holdsThere(ADD)), "Copying needs reading the page, and Writer where the copy goes.") },
  },
  {
    line: "views and readers of a page",
    acts: { seeReads: act(any(owner, admits), "How often this is read is for its owner, and for Keepers.") },
  },
  {
    line: "start a page in a place",
    acts: { start: act(holdsThere(ADD), "You may not add pages here: that needs Writer.") },
  },
  {
    line: "change title or text",
    acts: { write: act(holds(REVISE), "You may read this, but not write it: that needs Writer.") },
  },
  {
    line: "rename a live page at once",
    acts: { renameLive: act(all(holds(ARRANGE), holds(PUBLISH)), "Renaming a live page at once needs Publisher.") },
  },
  {
    line: "move, reorder",
    acts: {
      move: act(holds(ARRANGE), "You may not move this: that needs Publisher."),
      moveInto: act(holdsThere(ADD), "You may not add pages where this would go: that needs Writer there."),
    },
  },
  {
    line: "publish, schedule, take down, approve",
    acts: {
      publish: act(publishes, "You may not publish or take down this: that needs Publisher."),
      approve: act(publishes, "Approving is for those who may publish this: that needs Publisher."),
    },
  },
  {
    line: "tags, working marks, review period",
    acts: {
      tag: act(
        (it) => (it.pledged ? admits(it) : holds(REVISE)(it)),
        "You may not change these tags: that needs Writer, and Keeper or oversight where a pledge goes by a tag.",
      ),
      setPeriod: act(holds(REVISE), "You may not say how often this is reviewed: that needs Writer."),
    },
  },
  {
    line: "owner",
    acts: { handOver: act(any(holds(ADMIT), owner), "You may not hand this over: that needs Keeper, or being its owner.") },
  },
  {
    line: "archive, bin, restore",
    acts: {
      retire: act(any(holds(RETIRE), oversees, ownDraft), "You may not archive, bin or restore this: that needs Publisher, or oversight."),
    },
  },
  {
    line: "erase",
    acts: {
      erase: act(governs, "Erasing needs Keeper of the space or of the site."),
      eraseSpace: act(siteKeeper, "A space is erased by site keepers."),
    },
  },
  {
    line: "rules of a place (grants, fences, stance), passes, grants to guests who are here already",
    acts: {
      changeRules: act(admits, "You may not change who has access here: that needs Keeper, or oversight."),
      changePasses: act(admits, "You may not make or withdraw passes here: that needs Keeper, or oversight."),
    },
  },
  {
    line: "let named people into an unpublished page (`draft: true`, at most {read, discuss, revise}, no more than one holds)",
    acts: { letHelpersIn: act(any(ownDraft, holds(ADMIT)), "Helpers are let into a draft by its owner, or by Keepers.") },
  },
  {
    line: "see a place's rules and everybody's effective set, explain for others, see its ledger",
    acts: {
      knowOthers: act(admits, "Here you may ask about yourself only: knowing what others can do needs Keeper, or oversight."),
    },
  },
  {
    line: "space settings, ceilings, navigation, templates, routines, a filter saved for the space",
    acts: {
      changeSpace: act(governs, "This is for those who keep the space or the site."),
      changeCeilings: act(governs, "Only those with oversight change ceilings."),
    },
  },
  {
    line: "archive, bin, restore a space",
    acts: { retireSpace: act(governs, "A space is archived, binned and restored by those who keep it or the site.") },
  },
  {
    line: "see a page in the bin",
    acts: { seeBinned: act(any(holds(RETIRE), oversees, ownDraft), "There is nothing here, or it is not open to you.") },
  },
  {
    line: "say *meant to be outside*, set a finding aside",
    acts: {
      meanOutside: act(admits, "This is said by Keepers, or with oversight."),
      setAside: act(admits, "Findings are set aside by Keepers, or with oversight."),
    },
  },
  {
    line: "ask for access · decide on it",
    acts: {
      askForAccess: act(signedIn, "Sign in first."),
      decideOnAccess: act(admits, "Who has access here is decided by Keepers, or with oversight."),
    },
  },
  {
    line: "stop a job",
    acts: { stopJob: act(any(theirs, siteKeeper), "A job is stopped by who started it, or by site keepers.") },
  },
  {
    line: "use a template · change templates",
    acts: {
      useTemplate: act(holdsThere(ADD), "You may not add pages here: that needs Writer."),
      changeTemplates: act(governs, "Templates are changed by those who keep the space or the site."),
    },
  },
  {
    line: "bring in a guest",
    acts: {
      bringInGuest: act(
        any(all(holds(ADMIT), allowed), siteKeeper),
        "Guests are brought in by site keepers; by Keepers of a place where the house rules allow it.",
      ),
      moveEndOfGuest: act(any(theirs, siteKeeper), "The end of a guest is moved by whoever brought them in, or by site keepers."),
      takeEndOff: act(siteKeeper, "A guest has an end: only site keepers take it off."),
    },
  },
  {
    line: "rename or merge tags everywhere",
    acts: { changeTagsEverywhere: act(siteKeeper, HOUSE) },
  },
  {
    line: "crawl, outbox, mail settings",
    acts: { keepHouse: act(siteKeeper, HOUSE) },
  },
  {
    line: "make a space, people and their kind and status, groups, pledges, house rules, tokens, imports of people, everything site-wide",
    acts: {
      makeSpace: act(siteKeeper, "Only site keepers make spaces."),
      changePeople: act(siteKeeper, "Only site keepers let people in, suspend them or change what kind they are."),
      changeGroups: act(siteKeeper, "Only site keepers make groups and take them away."),
      changeMembers: act(
        any(theirs, siteKeeper),
        "Only site keepers, and those they name for a group, change who is in it: people, never themselves, guests where that is said.",
      ),
      changeHouse: act(siteKeeper, HOUSE),
      changePledges: act(siteKeeper, "Only site keepers make and change pledges."),
      keepTokens: act(siteKeeper, "Tokens are for site keepers to make and withdraw."),
      bringDocument: act(siteKeeper, "An access document speaks of the whole site: site keepers bring one in."),
      checkLedger: act(siteKeeper, "The whole ledger is checked by site keepers."),
    },
  },
  {
    line: "know that a person or group exists",
    acts: { knowPeople: act(any(member, theirs), "There is nothing here, or it is not open to you.") },
  },
  {
    line: "walk as the public",
    acts: { walkAsPublic: act(member, "Walking is for members.") },
  },
  {
    line: "walk as anybody else",
    acts: { walkAsOther: act(all(member, admits), "Walking as somebody else is for Keepers, and for those with oversight.") },
  },
  {
    line: "publish sheet, schedule, approval of a page",
    acts: { seePublishSheet: act(publishes, "What publishing would do is shown to those who may publish this.") },
  },
  {
    line: "AuthZEN, SCIM, exports",
    acts: { askByProgram: act(any(theirs, siteKeeper), "This is for site keepers, and for programs with a token.") },
  },
] as const satisfies readonly Row[];

type Union<T> = (T extends unknown ? (it: T) => void : never) extends (it: infer I) => void ? I : never;
type ActsByName = Union<(typeof TABLE)[number]["acts"]>;
export type Act = keyof ActsByName & string;

const BY_NAME = Object.assign({}, ...TABLE.map(({ acts }) => acts)) as Record<Act, { rule: Rule; refusal: string }>;

/** Whether an act is open to somebody who stands so: null, or the sentence that refuses it. It names no thing. */
export function may(act: Act, standing: Standing): string | null {
  const { rule, refusal } = BY_NAME[act];
  return rule(standing) ? null : refusal;
}
