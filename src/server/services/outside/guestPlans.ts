/** What ends guests, makes their time shorter or withdraws what they do not use, as edits for the tray; nothing is changed here. */
import { type GuestPlan, type GuestPlanBody, UNUSED_DAYS } from "../../../contracts/guests.ts";
import { withSentences } from "../../../core/access/explain/index.ts";
import { membershipsOf } from "../../../core/access/groups/index.ts";
import { type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Edit, type Instant, instantOf, type Person } from "../../../core/access/model/index.ts";
import { ofWholeSite } from "../../access/aside.ts";
import { type Access, isKeeper, need, readAccess, somebodyKnown, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { usesKnown } from "../reading/uses.ts";
import { broughtInBy } from "./guests.ts";
import { type Way, type Ways, waysOf } from "./guestWays.ts";
import { type ToldBlock, toldBlocks } from "./told.ts";

type Part = Pick<GuestPlan, "edits" | "sentences" | "why">;
const nothing = (why: string): Part => ({ edits: [], sentences: [], why });

/** Their time ends at an instant, if it does not before that already. */
function endingAt(person: Person, until: Instant, at: Instant): Part {
  const now = person.until == null ? Number.POSITIVE_INFINITY : instantOf(person.until);
  if (now <= at || person.status === "suspended") return nothing("They cannot come in any more already.");
  if (now <= until) return nothing("Their time ends before that already.");
  const put = { ...person, until: new Date(until).toISOString() };
  const edits: Edit[] = [{ kind: "person", person: person.id, remove: person, put }];
  return { edits, sentences: [until <= at ? "their time ends now" : `until ${put.until}`], why: "" };
}

/** Groups through which they used nothing: of every group that names them, all that it and those around it open is unused. */
function groupsToLeave({ index }: Access, guest: CompiledSubject, ways: readonly Way[]): string[] {
  return (index.holders.get(guest.key) ?? []).filter((group) => {
    const around = new Set([group, ...membershipsOf(index, { group }).map((it) => it.group)]);
    const through = ways.filter(({ grant: { to } }) => "group" in to && around.has(to.group));
    return through.length > 0 && through.every(({ unused }) => unused);
  });
}

/** Takes away the grants by name, and for site keepers the memberships, that opened nothing the guest read lately. */
function withdrawing(access: Access, me: CompiledSubject, { guest, ways }: Ways): Part {
  const id = guest.person?.id ?? "";
  const byName = ways.filter(({ place, grant, unused }) => {
    const where = placeOf(access.index, place);
    return unused && "person" in grant.to && where !== undefined && mayKnowOthers(access, me, where);
  });
  const groups = isKeeper(access, me) ? groupsToLeave(access, guest, ways) : [];
  const edits: Edit[] = [
    ...byName.map(({ place, grant: remove }): Edit => ({ kind: "grant", place, remove })),
    ...groups.map((group): Edit => ({ kind: "member", group, remove: { person: id } })),
  ];
  if (edits.length > 0) return { ...withSentences(edits, namesFor(access, me)), why: "" };
  return nothing(
    ways.some(({ unused }) => unused)
      ? "What they do not use they have through groups that only site keepers change, or through rules for everybody."
      : `They used something of each rule in ${UNUSED_DAYS} days, or are here for less than that.`,
  );
}

/** Who asks, and what is worked out for them once however many guests it is about. */
interface Asking {
  access: Access;
  me: CompiledSubject;
  told: readonly ToldBlock[];
  /** Whom they brought in. */
  mine: ReadonlySet<string>;
}

async function planFor(tx: Tx, { access, me, told, mine }: Asking, id: string, order: GuestPlanBody): Promise<Part> {
  if (order.act === "withdraw") return withdrawing(access, me, await waysOf(tx, access, me, told, id));
  const guest = subjectOf(access.index, { person: id });
  if (guest?.class !== "guests" || !guest.person) throw notThere();
  need(access, me, "moveEndOfGuest", undefined, { theirs: mine.has(id) });
  return endingAt(guest.person, order.act === "end" ? access.at : instantOf(order.until as string), access.at);
}

export const planGuestsHere = (asker: string, order: GuestPlanBody): Promise<GuestPlan[]> =>
  inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    if (order.act === "shorten" && (order.until === null || !(instantOf(order.until) > access.at)))
      throw badRequest("Say until when, as an instant that lies ahead.");
    const { days } = await usesKnown(tx, access.at);
    if (order.act === "withdraw" && days < UNUSED_DAYS)
      throw badRequest(
        `The house rules keep when guests read a page for ${days} days: what is unused for ${UNUSED_DAYS} days cannot be told.`,
      );
    const { person } = namesFor(access, me);
    const asking: Asking = {
      access,
      me,
      told: order.act === "withdraw" ? await toldBlocks(access, me) : [],
      mine: await broughtInBy(tx, asker),
    };
    const plans: GuestPlan[] = [];
    for (const id of order.guests) plans.push({ guest: { id, name: person(id) }, ...(await planFor(tx, asking, id, order)) });
    return plans;
  });

export const planGuests = ofWholeSite("planGuestsHere", somebodyKnown, planGuestsHere);
