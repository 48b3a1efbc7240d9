/** What ends soon: people's time, passes; and what goes from the bin for good. */
import { and, asc, eq, lte, sql } from "drizzle-orm";
import { BIN_WARNS_DAYS, type DeskRow, ENDING_WITHIN_DAYS } from "../../../contracts/desk.ts";
import { OVERSEES } from "../../../core/access/decide/index.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { type Edit, instantAt, instantOf, RETIRE } from "../../../core/access/model/index.ts";
import { mayNot } from "../../access/current.ts";
import { mayKnowOthers } from "../../access/known.ts";
import { reachOf, within } from "../../db/listing.ts";
import { listing, routines } from "../../db/schema/index.ts";
import { laterThan, longer } from "../forecast/longer.ts";
import { binKeepsDays } from "../life/facts.ts";
import { broughtInBy } from "../outside/guests.ts";
import { type Asking, DAY, firstOf, go, NOTHING, named, type Told, titled } from "./asking.ts";

/** People whose time ends within two weeks: for site keepers, and for whoever brought them in. */
export async function endingPeopleRows(asking: Asking): Promise<Told> {
  const { tx, access, who, keepsSite } = asking;
  const limit = access.at + ENDING_WITHIN_DAYS * DAY;
  const ending = access.index.document.people.filter(({ until, status }) => {
    const at = until ? instantOf(until) : Number.NaN;
    return status === "active" && at > access.at && at <= limit;
  });
  if (ending.length === 0) return NOTHING;
  const mine = keepsSite ? null : await broughtInBy(tx, who);
  const rows = ending
    .filter(({ id }) => mine === null || mine.has(id))
    .sort((a, b) => instantOf(a.until ?? "") - instantOf(b.until ?? ""))
    .map((person): DeskRow => {
      const name = person.name ?? person.id;
      const at = instantOf(person.until ?? "");
      const edits: Edit[] = [longer({ what: "person", at, person })];
      return {
        key: `ending:${person.id}`,
        heading: "ending",
        words: `The time of ${name}, ${person.kind === "guest" ? "a guest" : "a member"}, ends on ${person.until}`,
        place: null,
        since: null,
        otherwise: "they come in no more from then on",
        lines: [],
        acts: [
          {
            key: "e",
            name: "4 weeks longer",
            how: { do: "stage", about: { id: `person:${person.id}`, name }, edits, words: `${name} until ${laterThan(at)}` },
          },
          go("o", "Open …", `/people?part=${person.kind === "guest" ? "guests" : "members"}&person=${encodeURIComponent(person.id)}`),
        ],
      };
    });
  return firstOf(asking, rows, { heading: "ending", words: "more whose time ends", address: "/people?part=guests" });
}

/** Passes that end within two weeks, where one may know the rules. */
export async function endingPassRows(asking: Asking): Promise<Told> {
  const { access, me } = asking;
  const limit = access.at + ENDING_WITHIN_DAYS * DAY;
  const rows = access.index.document.passes.flatMap((pass): DeskRow[] => {
    const at = pass.until ? instantOf(pass.until) : Number.NaN;
    const place = placeOf(access.index, pass.place);
    if (pass.revoked || !(at > access.at && at <= limit) || !place || !mayKnowOthers(access, me, place)) return [];
    const edits: Edit[] = [longer({ what: "pass", at: instantAt(at), place: pass.place, pass })];
    return [
      {
        key: `pass:${pass.id}`,
        heading: "ending",
        words: `A pass for ${titled(place)} ends on ${pass.until}`,
        place: named(place),
        since: null,
        otherwise: "whoever holds it sees nothing from then on",
        lines: [],
        acts: [
          { key: "e", name: "4 weeks longer", how: { do: "stage", about: named(place), edits, words: `the pass until ${laterThan(at)}` } },
          go("o", "Passes …", "/outside?part=passes"),
        ],
      },
    ];
  });
  return firstOf(asking, rows, { heading: "ending", words: "more passes that end", address: "/outside?part=passes" });
}

/** What a routine will erase from the bin within a week, where one may restore it. */
export async function leavingBinRows(asking: Asking): Promise<Told> {
  const { tx, access, me, keepsSite } = asking;
  const erasing = await tx
    .select({ space: routines.spaceId })
    .from(routines)
    .where(and(eq(routines.isOn, true), sql`${routines.action}->>'what' = 'erase'`));
  if (erasing.length === 0) return NOTHING;
  const keeps = await binKeepsDays(tx);
  const reach = keepsSite ? undefined : within(await reachOf(tx, access.index, me.number, access.at, RETIRE | OVERSEES));
  const found = await tx
    .select({ id: listing.placeId, space: listing.spaceId, left: listing.leftAt })
    .from(listing)
    .where(
      and(
        sql`${listing.kind} in ('page', 'bulletin') and ${listing.state} = 'binned'`,
        lte(listing.leftAt, new Date(access.at + (BIN_WARNS_DAYS - keeps) * DAY)),
        reach,
      ),
    )
    .orderBy(asc(listing.leftAt), asc(listing.placeId))
    .limit(200);
  const covered = found.filter(({ space }) => erasing.some((it) => it.space === null || it.space === space));
  const rows = covered.flatMap(({ id, left }): DeskRow[] => {
    const place = placeOf(access.index, id);
    if (!place || !left) return [];
    const from = new Date(left.getTime() + keeps * DAY).toISOString();
    return [
      {
        key: `bin:${id}`,
        heading: "ending",
        words: `${titled(place)} leaves the bin for good from ${from} on`,
        place: named(place),
        since: left.toISOString(),
        otherwise: "a routine erases it: nothing brings it back then",
        lines: [],
        acts: [
          ...(mayNot(access, me, "retire", place) === null
            ? [{ key: "b", name: "Restore …", how: { do: "life" as const, act: "restore" as const, place: id } }]
            : []),
          go("o", "The bin …", "/pages?part=bin"),
        ],
      },
    ];
  });
  return firstOf(asking, rows, { heading: "ending", words: "more that leave the bin", address: "/pages?part=bin" });
}
