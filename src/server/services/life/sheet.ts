/** The sheet of an act: what it would do, break and carry along, as far as whoever looks may know; nothing is changed. */

import { setImmediate } from "node:timers/promises";
import { eq, sql } from "drizzle-orm";
import type { ActSheet, BreakTold, ChoiceTold, ReturnTold, Told } from "../../../contracts/life.ts";
import { pledgeSentence } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { type Edit, placeOfEdit } from "../../../core/access/model/index.ts";
import {
  actTitle,
  belowOf,
  type Choice,
  IMPACT_LINES,
  type Impact,
  type ImpactFacts,
  type ImpactLine,
  impactOf,
  impactSentence,
  type LifeAct,
  labelOfAct,
  type Plan,
  type Returning,
  takingBackSentence,
} from "../../../core/lifecycle/index.ts";
import { isAboutGuests } from "../../../core/routines/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, isKeeper, keepsSite, mayNot } from "../../access/current.ts";
import { knowsOthersAt, knowsPlace, mayKnowOthers, namesFor, toldRefusals } from "../../access/known.ts";
import { dayBefore } from "../../clock.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { routines, schedules } from "../../db/schema/index.ts";
import { textArray } from "../../db/textArray.ts";
import { type Planned, type PlanOrder, planChange, refuseEarly } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { newReaders } from "./newReaders.ts";
import { misfitsTold } from "./planning.ts";

/** So many things of a list are named; their number is told anyway. */
const MOST_NAMED = 200;
const DAYS = 30;
const byName = new Intl.Collator("en");

/** Routines whose filter names one of some places, or that are confined to it. */
async function routinesNaming(tx: Tx, gone: readonly string[]): Promise<string[]> {
  const going = new Set(gone);
  const all = await tx
    .select({ id: routines.id, spaceId: routines.spaceId, which: routines.which })
    .from(routines)
    .where(eq(routines.gone, false));
  const names = (which: (typeof all)[number]["which"]) => (isAboutGuests(which) ? [] : [which.branch, ...(which.spaces ?? [])]);
  return all.flatMap(({ id, spaceId, which }) => ([spaceId, ...names(which)].some((it) => it && going.has(it)) ? [id] : []));
}

/** What lies beside the document about places that an act changes. */
async function factsOf(tx: Tx, changed: readonly string[], gone: readonly string[]): Promise<ImpactFacts> {
  if (changed.length === 0) return { links: [], schedules: [], routines: [], views30: 0 };
  const going = textArray(gone);
  // As a list of rows: an array of thousands is weighed against what the database knows of a column, id by id. Back they
  // come in one piece: ten thousand rows are most of the time it takes to read them.
  const links = tx.execute<{ list: [from: string, to: string][] }>(sql`
    with changed as materialized (select unnest(${textArray(changed)}) as id),
    found as (
      select distinct k.place_id as "from", k.target_id as "to"
      from changed c join links k on k.target_id = c.id join listing s on s.place_id = k.place_id and s.state = 'live'
      where k.live and not exists (select from changed o where o.id = k.place_id))
    select coalesce(json_agg(json_build_array("from", "to")), '[]'::json) as list from found`);
  const ending = tx
    .select({ place: schedules.placeId, what: schedules.what })
    .from(schedules)
    .where(sql`${schedules.placeId} = any(${going})`);
  const views = tx.execute<{ views: string | null }>(sql`
    select sum(views) as views from view_counts where place_id = any(${going}) and day >= ${dayBefore(DAYS)}`);
  const naming = routinesNaming(tx, gone);
  const [[linking], scheduled, [viewed], named] = await Promise.all([links, ending, views, naming]);
  return {
    links: (linking?.list ?? []).map(([from, to]) => ({ from, to })),
    schedules: scheduled,
    routines: named,
    views30: Number(viewed?.views ?? 0),
  };
}

/** What lies beside the document about places that edits change. */
function impactFacts(tx: Tx, access: Access, edits: readonly Edit[]): Promise<ImpactFacts> {
  const states = edits.filter((edit) => edit.kind === "state" || edit.kind === "erase");
  const changed = [
    ...new Set(edits.flatMap((edit) => (edit.kind === "state" || edit.kind === "move" || edit.kind === "erase" ? [edit.place] : []))),
  ];
  // A space takes everything in it along, without an edit of its own for each.
  const gone = states.map((edit) => placeOfEdit(edit) ?? "");
  const going = new Set(gone);
  const { blocks, places } = access.index;
  const whole = blocks.filter(({ space }) => space !== access.index.site && going.has(places[space]?.place.id ?? ""));
  const inside = whole.flatMap((block) => block.places).map((number) => places[number]?.place.id ?? "");
  const all = inside.length === 0 ? changed : [...new Set([...changed, ...inside])];
  return factsOf(tx, all, inside.length === 0 ? gone : [...new Set([...gone, ...inside])]);
}

/** Tells somebody of things of an act, as far as they may know of them. */
class Teller {
  private readonly names;

  constructor(private readonly it: Planned) {
    this.names = namesFor(it.access, it.me);
  }

  private title(id: string): string {
    return placeOf(this.it.access.index, id)?.place.title ?? "";
  }

  known = (id: string): boolean => knowsPlace(this.it.access, this.it.me, id);

  /** Of places that are there, those one may know of: for whoever keeps the site, all. */
  private knownOf = (ids: readonly string[]): readonly string[] => (isKeeper(this.it.access, this.it.me) ? ids : ids.filter(this.known));

  spaceOf(id: string): string {
    const { index } = this.it.access;
    const space = index.places[placeOf(index, id)?.space ?? -1];
    return space && this.known(space.place.id) ? (space.place.title ?? "") : "";
  }

  places(ids: readonly string[], note: (id: string) => string = () => ""): Told {
    const known = this.knownOf(ids);
    const items = known.slice(0, MOST_NAMED).map((id) => ({ id, title: this.title(id), note: note(id) }));
    return { count: ids.length, hidden: ids.length - known.length, items };
  }

  /** Links are told by where they come from, those of one space together. */
  links(links: Impact["links"]): Told {
    const shown = links.filter(({ from, to }) => this.known(from) && this.known(to));
    const sorted = shown
      .map((link) => ({ ...link, space: this.spaceOf(link.from), title: this.title(link.from) }))
      .sort((a, b) => byName.compare(a.space, b.space) || byName.compare(a.title, b.title));
    const items = sorted.slice(0, MOST_NAMED).map(({ from, to, title, space, outside }) => ({
      id: from,
      title,
      note: `${space === "" ? "" : `in ${space}, `}to ${this.title(to)}${outside ? "; read from outside" : ""}`,
    }));
    return { count: links.length, hidden: links.length - shown.length, items };
  }

  passes(ids: readonly string[]): Told {
    const { access, me } = this.it;
    const places = ids.map((id) => access.index.document.passes.find((pass) => pass.id === id)?.place ?? "");
    const known = places.filter((id) => knowsOthersAt(access, me, id));
    return {
      count: ids.length,
      hidden: ids.length - known.length,
      items: known.slice(0, MOST_NAMED).map((id) => ({ id, title: this.title(id), note: "a pass" })),
    };
  }

  /** Guests are named to those who may know who reads what the act is done to. */
  guests(ids: readonly string[], may: boolean): Told {
    const items = may ? ids.slice(0, MOST_NAMED).map((id) => ({ id: "", title: this.names.person(id), note: "guest" })) : [];
    return { count: ids.length, hidden: 0, items };
  }

  pledges(ids: readonly string[]): Told {
    const { access, me } = this.it;
    const may = me.person !== null && keepsSite(access, me.person.id);
    const pledges = access.index.document.pledges.filter(({ id }) => ids.includes(id));
    const items = may
      ? pledges.slice(0, MOST_NAMED).map((it) => ({ id: "", title: pledgeSentence(it, this.names), note: it.why ?? "" }))
      : [];
    return { count: ids.length, hidden: 0, items };
  }

  landings(list: Impact["landings"]): Told {
    const items = list.map(({ space, to }) => ({
      id: space,
      title: this.known(space) ? this.title(space) : "a space",
      note: to === null ? "none is left" : this.known(to) ? this.title(to) : "a page you cannot see",
    }));
    return { count: list.length, hidden: 0, items };
  }

  line(line: ImpactLine, impact: Impact, mayNameGuests: boolean): BreakTold {
    const outside = line === "links" ? impact.links.filter((it) => it.outside).length : 0;
    const told = {
      links: () => this.links(impact.links),
      landings: () => this.landings(impact.landings),
      passes: () => this.passes(impact.passes),
      guests: () => this.guests(impact.guests, mayNameGuests),
      pledges: () => this.pledges(impact.pledges),
      // Which they are is for those who keep them: their view says so.
      routines: () => ({ count: impact.routines.length, hidden: 0, items: [] }),
      schedules: () => {
        const what = new Map(impact.schedules.map((it) => [it.place, it.what === "live" ? "going live" : "archiving"]));
        return this.places(
          impact.schedules.map(({ place }) => place),
          (id) => what.get(id) ?? "",
        );
      },
    }[line]();
    return { line, sentence: impactSentence(line, told.count, outside), ...told };
  }

  choice(choice: Choice): ChoiceTold {
    const { access, me } = this.it;
    if (choice.choose === "below")
      return {
        choose: "below",
        options: choice.options as ChoiceTold extends { options: infer O } ? O : never,
        pages: this.places(choice.pages),
      };
    if (choice.choose === "arrival") return { choose: "arrival", pages: this.places(choice.pages) };
    if (choice.choose === "destination") return { choose: "destination", pages: this.places(choice.pages) };
    const space = placeOf(access.index, choice.space) as CompiledPlace;
    return {
      choose: "landing",
      space: { id: choice.space, title: this.known(choice.space) ? (space.place.title ?? "") : "the space" },
      candidates: choice.candidates
        .filter(this.known)
        .slice(0, MOST_NAMED)
        .map((id) => ({ id, title: this.title(id) })),
      may: mayNot(access, me, "changeSpace", space) === null,
    };
  }

  returning(it: Returning): ReturnTold[] {
    const { access, me } = this.it;
    const name = (id: string) => this.names.place(id);
    switch (it.what) {
      case "elsewhere":
        return [{ what: it.what, sentence: `${name(it.place)} comes back to ${name(it.to)}: what it stood in is in the bin.` }];
      case "draft":
        return [{ what: it.what, sentence: `${name(it.place)} was scheduled and comes back as a draft.` }];
      case "movedSince":
        return this.known(it.place)
          ? [{ what: it.what, sentence: `${name(it.place)} was handed up and is elsewhere by now; it stays there.` }]
          : [];
      case "handedUp":
        return this.known(it.place)
          ? [{ what: it.what, sentence: `${name(it.place)} was handed up and ${it.comesBack ? "comes back" : "stays where it is"}.` }]
          : [];
      case "notLanding":
        return [{ what: it.what, sentence: `${name(it.place)} was the landing page of ${name(it.space)}; another is now.` }];
      case "pass": {
        const place = placeOf(access.index, it.place);
        const may = place !== undefined && mayKnowOthers(access, me, place);
        const words = it.works ? "works again" : "is withdrawn for good";
        return [
          may
            ? { what: it.what, pass: it.pass, works: it.works, sentence: `A pass for ${name(it.place)} ${words}.` }
            : { what: it.what, sentence: "A pass is withdrawn for good: which work again is for Keepers to choose." },
        ];
      }
    }
  }
}

/** Choices as they can be made: those that were made stay open to be made otherwise. */
function choicesOf(planned: Planned, teller: Teller): ChoiceTold[] {
  const { acts, access } = planned;
  const open = acts?.open ?? [];
  const act = acts?.acts[0] as LifeAct;
  const plan = acts?.plans[0] as Plan;
  const made: Choice[] = [];
  const below = [...plan.below.along, ...plan.below.handedUp];
  if (act.below !== undefined && belowOf(act.act).includes("handUp") && below.length > 0 && !open.some((it) => it.choose === "below"))
    made.push({ choose: "below", options: belowOf(act.act), pages: below });
  if (act.arrive !== undefined && plan.arriving.length > 0) made.push({ choose: "arrival", pages: plan.arriving });
  for (const { space } of act.landings ?? []) {
    if (open.some((it) => it.choose === "landing" && it.space === space) || !placeOf(access.index, space)) continue;
    const gone = new Set(plan.edits.flatMap((edit) => (edit.kind === "state" || edit.kind === "move" ? [edit.place] : [])));
    const block = access.index.blocks[access.index.blockOf[placeOf(access.index, space)?.number ?? 0] as number];
    const candidates = (block?.places ?? []).flatMap((number) => {
      const page = access.index.places[number];
      return page?.place.kind === "page" && page.place.state === "live" && !gone.has(page.place.id) ? [page.place.id] : [];
    });
    made.push({ choose: "landing", space, candidates });
  }
  return [...made, ...open].map((it) => teller.choice(it));
}

const NOTHING: Told = { count: 0, hidden: 0, items: [] };

/** Plans a change to be looked at. What lies beside the document is read while the ripple is worked out. */
export async function planToLook(tx: Tx, order: PlanOrder): Promise<Looked> {
  const reading: Promise<ImpactFacts>[] = [];
  const meanwhile = async (access: Access, edits: readonly Edit[]) => {
    reading.push(impactFacts(tx, access, edits));
    // Where the plan fails for a reason of its own, nobody waits for these.
    reading[0]?.catch(() => undefined);
    // The questions are sent off before the work begins that lets nothing else happen.
    await setImmediate();
  };
  const planned = await planChange(tx, { ...order, look: true, meanwhile });
  return { ...planned, facts: (await reading[0]) as ImpactFacts };
}

/** A plan to be looked at, and what it breaks is told from. */
export interface Looked extends Planned {
  facts: ImpactFacts;
}

async function sheetIn(tx: Tx, asker: string, act: LifeAct): Promise<ActSheet> {
  return sheetOf(tx, await planToLook(tx, { maker: asker, edits: [], acts: [act] }), act);
}

/** The sheet of an act that was planned to be looked at. */
export async function sheetOf(tx: Tx, planned: Looked, act: LifeAct): Promise<ActSheet> {
  const { access, me, edits, after, verdict, facts } = planned;
  const plan = planned.acts?.plans[0] as Plan;
  const teller = new Teller(planned);
  const names = namesFor(access, me);
  const chosen = act.places.flatMap((id) => placeOf(access.index, id) ?? []);
  const impact = impactOf({ before: access.index, after, at: access.at, edits, ripple: verdict.ripple }, facts);
  const mayNameGuests = chosen.every((place) => mayKnowOthers(access, me, place));
  const seesReads = chosen.every((place) => mayNot(access, me, "seeReads", place) === null);
  const handsUp = plan.returning.filter((it) => it.what === "handedUp");
  const returning = plan.returning.flatMap((it) => teller.returning(it));
  const erased = plan.edits.filter(({ kind }) => kind === "erase").length;
  const preview = previewOf(planned);
  return {
    ...preview,
    refusals: toldRefusals(access, me, planned.verdict.refusals).map((it) => ({ ...it, title: it.place ? names.place(it.place) : "" })),
    label: labelOfAct(act.act),
    title: actTitle(act.act, names.place(act.places[0] ?? ""), { more: act.places.length - 1, along: plan.below.along.length }),
    places: teller.places(act.places),
    kinds: [...new Set(chosen.map(({ place }) => place.kind))],
    along: teller.places(plan.below.along),
    handedUp: plan.below.handedUp.length === 0 ? NOTHING : teller.places(plan.below.handedUp),
    breaks: IMPACT_LINES.map((line) => teller.line(line, impact, mayNameGuests)),
    views30: seesReads && !["move", "restore", "unarchive"].includes(act.act) ? impact.views30 : null,
    choices: choicesOf(planned, teller),
    // Each once: what is said of many passes that one may not choose is said once.
    returning: [...new Map(returning.map((it) => [it.sentence + (it.pass ?? ""), it])).values()].slice(0, MOST_NAMED),
    newReaders: await newReaders(tx, planned),
    mayBringBack: handsUp.length,
    misfits: misfitsTold(access, me, plan),
    back: takingBackSentence(act.act),
    erased,
  };
}

export const lookAtActHere = (asker: string, act: LifeAct): Promise<ActSheet> => inSnapshot((tx) => sheetIn(tx, asker, act));

/** What an act would do; changes nothing. */
export const lookAtAct = (asker: string, act: LifeAct): Promise<ActSheet> =>
  whereItFits(
    "lookAtActHere",
    [asker, act],
    // What comes back is compared with the site as it was.
    { whole: act.act === "restore" || act.act === "unarchive", places: act.places, first: () => refuseEarly(asker, [], [act]) },
    () => lookAtActHere(asker, act),
  );
