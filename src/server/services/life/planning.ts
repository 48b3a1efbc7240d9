/** Acts become edits here, on the server, in the snapshot they are judged in (access-model.md, 6a). */
import { MOST_AT_ONCE, MOST_GIVEN_IN } from "../../../contracts/acts.ts";
import { type Act, may, standingAt } from "../../../core/access/authority/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, type EditConflict, type Instant, placeOfEdit } from "../../../core/access/model/index.ts";
import { update } from "../../../core/access/update/index.ts";
import {
  actsOn,
  assumed,
  type LifeAct,
  type LifeActName,
  type LifeFacts,
  landed,
  type Placing,
  type Plan,
  pastOfAct,
  planAct,
} from "../../../core/lifecycle/index.ts";
import { type Access, isKeeper, need, standing } from "../../access/current.ts";
import { knowsPlace, mayKnowOthers, namesFor } from "../../access/known.ts";
import type { Tx } from "../../db/client.ts";
import { badRequest, changedMeanwhile, notThere } from "../../trouble.ts";
import { byWhom } from "../ledger/told.ts";
import { factsFor } from "./facts.ts";

export interface PlannedActs {
  acts: readonly LifeAct[];
  plans: Plan[];
  edits: Edit[];
  placings: Placing[];
  /** Edits that are judged by their outcome only. */
  follows: ReadonlySet<Edit>;
  facts: LifeFacts;
}

/** Everything an act names must be known to whoever does it; what is not is as though it did not exist. */
function checkNamed(access: Access, me: CompiledSubject, act: LifeAct): void {
  const pages = [...act.places, ...(act.to === undefined ? [] : [act.to]), ...(act.after ? [act.after] : [])];
  const landings = (act.landings ?? []).flatMap(({ space, page }) => [space, page]);
  if ([...pages, ...landings].some((id) => !knowsPlace(access, me, id))) throw notThere();
}

const POLICY: Record<LifeActName, Act> = {
  takeDown: "publish",
  archive: "retire",
  unarchive: "retire",
  bin: "retire",
  restore: "retire",
  erase: "erase",
  move: "move",
};

/** The act of the table that an act on a thing of this kind is. */
export function policyOf(act: LifeActName, place: CompiledPlace | undefined): Act {
  const policy = POLICY[act];
  if (place?.place.kind !== "space") return policy;
  return policy === "retire" ? "retireSpace" : policy === "erase" ? "eraseSpace" : policy;
}

/** Acts that fit a place and that somebody may do to it. Asked of every row of a list: how they stand is worked out once. */
export function actsFor(access: Access, me: CompiledSubject, place: CompiledPlace): LifeActName[] {
  const fitting = actsOn(place.place.kind, place.place);
  if (fitting.length === 0) return [];
  const stands = standingAt(access.index, me, place, access.at);
  return fitting.filter((act) => may(policyOf(act, place), stands) === null);
}

/** Refuses whoever may not do the act to what they chose, before anything is said of what it would come to. */
function checkMay(access: Access, me: CompiledSubject, act: LifeAct): void {
  for (const id of act.places) {
    const place = placeOf(access.index, id);
    need(access, me, policyOf(act.act, place), place);
  }
  if (act.to !== undefined) need(access, me, "moveInto", placeOf(access.index, act.to), { there: there(access, me, act.to) });
}

/** Passes are chosen by those who may make them: of others one learns nothing by naming them. */
function knownPasses(access: Access, me: CompiledSubject, act: LifeAct): LifeAct {
  if (act.passes === undefined) return act;
  const known = new Set(
    access.index.document.passes.flatMap((pass) => {
      const place = placeOf(access.index, pass.place);
      return place && mayKnowOthers(access, me, place) ? [pass.id] : [];
    }),
  );
  return { ...act, passes: act.passes.filter((id) => known.has(id)) };
}

/** Why an act cannot be done to some of its places, as its maker may hear it. */
export function misfitsTold(access: Access, me: CompiledSubject, plan: Plan): string[] {
  const names = namesFor(access, me);
  const known = plan.misfits.filter(({ place }) => knowsPlace(access, me, place));
  const hidden = plan.misfits.length - known.length;
  return [
    ...known.slice(0, 20).map(({ place, message }) => `${names.place(place)}: ${message}`),
    ...(known.length > 20 ? [`and ${known.length - 20} more`] : []),
    ...(hidden > 0 ? [`${hidden} you cannot see`] : []),
  ];
}

const choicesSaid = (plan: Plan): string =>
  plan.choices
    .map((it) =>
      it.choose === "below"
        ? "what becomes of the pages below"
        : it.choose === "landing"
          ? "another landing page"
          : it.choose === "arrival"
            ? "whether it arrives as a draft or is given in, since the space asks for approval"
            : "where it goes, since what it stood in is not there",
    )
    .join(", and ");

/** One act on an index; `look`: what is not chosen yet is assumed, so that one sees what it would come to. */
function planOne(index: AccessIndex, facts: LifeFacts, act: LifeAct, at: Instant, look: boolean): { plan: Plan; open: Plan["choices"] } {
  const plan = planAct(index, facts, act, at);
  if (!look || plan.choices.length === 0) return { plan, open: plan.choices };
  // A branch of thousands is planned once, not once more for its landing page.
  const whole = landed(plan, facts);
  if (whole) return { plan: whole, open: plan.choices };
  const further = assumed(act, plan.choices);
  if (!further) return { plan, open: plan.choices };
  const then = planOne(index, facts, further, at, look);
  return { plan: then.plan, open: [...plan.choices, ...then.open] };
}

/** Refuses acts by what they name and what they are done to, before anything is planned. */
export function checkOrdered(access: Access, me: CompiledSubject, wished: readonly LifeAct[]): void {
  for (const act of wished) checkNamed(access, me, act);
  for (const act of wished) checkMay(access, me, act);
}

/** Plans acts one after another. `open`: choices that are still to be made, where one only looks. */
export async function planActs(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  wished: readonly LifeAct[],
  look = false,
): Promise<PlannedActs & { open: Plan["choices"] }> {
  checkOrdered(access, me, wished);
  const acts = wished.map((act) => knownPasses(access, me, act));
  const facts = await factsFor(tx, access.index, acts);
  const planned = { acts, plans: [] as Plan[], edits: [] as Edit[], placings: [] as Placing[], open: [] as Plan["choices"] };
  const follows = new Set<Edit>();
  let { index } = access;
  for (const [nth, act] of acts.entries()) {
    const { plan, open } = planOne(index, facts, act, access.at, look);
    if (!look) await checkWhole(tx, access, me, { act, plan });
    for (const edit of plan.follows) follows.add(edit);
    // What goes along unseen does not refuse the act; what may be known of is asked for.
    if (!isKeeper(access, me)) for (const edit of plan.along) if (!knowsPlace(access, me, placeOfEdit(edit) ?? "")) follows.add(edit);
    planned.plans.push(plan);
    planned.open.push(...open);
    planned.edits.push(...plan.edits);
    planned.placings.push(...plan.placings);
    // The next one is planned on what this one leads to.
    const updated = nth < acts.length - 1 ? update(index, plan.edits) : null;
    if (updated?.ok) index = updated.index;
  }
  if (!look) checkGivenIn(planned);
  return { ...planned, follows, facts };
}

function checkGivenIn({ acts, plans }: Pick<PlannedActs, "acts" | "plans">): void {
  const count = acts.reduce((sum, { arrive }, nth) => sum + (arrive === "submit" ? (plans[nth]?.arriving.length ?? 0) : 0), 0);
  if (count > MOST_GIVEN_IN)
    throw badRequest(
      `${count} pages would be given in for approval: a move gives in at most ${MOST_GIVEN_IN}. Let them arrive as drafts, and give them in there.`,
    );
}

function there(access: Access, me: CompiledSubject, id: string): number {
  const place = placeOf(access.index, id);
  return place ? standing(access, me, place).set : 0;
}

/** Refuses an act that does not fit any more, or that lacks a choice. */
async function checkWhole(tx: Tx, access: Access, me: CompiledSubject, { act, plan }: { act: LifeAct; plan: Plan }): Promise<void> {
  const [first] = plan.misfits;
  if (first) {
    const by = knowsPlace(access, me, first.place) ? await byWhom(tx, access, me, first.place) : "";
    const said = misfitsTold(access, me, plan).join("; ");
    throw changedMeanwhile(`This cannot be ${pastOfAct(act.act)}: ${said}${by}. What you chose is kept.`);
  }
  const erased = plan.edits.filter(({ kind }) => kind === "erase").length;
  if (act.act === "erase" && act.pages !== erased)
    throw badRequest(`Erasing is final: type how many go, ${erased}, to do it. Nothing was erased.`);
  if (erased > MOST_AT_ONCE)
    throw badRequest(`${erased} pages would be erased: more than ${MOST_AT_ONCE} are erased as a job, deepest first.`);
  if (plan.choices.length > 0)
    throw badRequest(`Something is still to be chosen before this can be ${pastOfAct(act.act)}: ${choicesSaid(plan)}.`);
}

/** Landing pages that edits name and that are not any more what they say. */
export const landingConflicts = (facts: LifeFacts, edits: readonly Edit[]): EditConflict[] =>
  edits.flatMap((edit) =>
    edit.kind === "landing" && (facts.landings.get(edit.place) ?? null) !== edit.from
      ? [{ edit, message: "another landing page was chosen meanwhile" }]
      : [],
  );
