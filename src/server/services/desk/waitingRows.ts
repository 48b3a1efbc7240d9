/** What other people wait for: access asked for, versions to be approved, notices. */
import { and, desc, eq, isNull, sql } from "drizzle-orm";
import type { DeskRow } from "../../../contracts/desk.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { mayRead, maySee } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { listing, notices, submissions } from "../../db/schema/index.ts";
import { broughtInBy } from "../outside/guests.ts";
import { waitsFor } from "../pages/filter.ts";
import { versionName } from "../writing/versions.ts";
import { type Asking, DAY, firstOf, go, named, slip, type Told, titled } from "./asking.ts";

/** Who asks to read what, where one may admit. */
export function askedRows(asking: Asking): Told {
  const { rows, more } = asking.beside.asked;
  const open = rows.filter(({ declined }) => declined === null);
  return firstOf(
    asking,
    open.map(
      ({ id, who, place, reason, at, lapses, broughtInBy: host }): DeskRow => ({
        key: `asked:${id}`,
        heading: "waiting",
        words: `${who.name}${who.kind === "guest" ? ", a guest," : ""} asks to read “${place.name}”`,
        place,
        since: at,
        otherwise: `it lapses on ${lapses}`,
        lines: [`“${reason}”`, ...(host ? [`${host} brought them in.`] : [])],
        acts: [
          { key: "l", name: "Let in …", how: { do: "letIn", request: id } },
          { key: "d", name: "Decline …", how: { do: "decline", request: id } },
        ],
      }),
    ),
    { heading: "waiting", words: "older ones", address: "/people?part=asking", beyond: more },
  );
}

/** Versions given in, which one may approve. */
export async function approvalRows(asking: Asking): Promise<Told> {
  const { tx, access, me } = asking;
  const rows = await tx
    .select({ row: submissions })
    .from(submissions)
    .innerJoin(listing, eq(listing.placeId, submissions.placeId))
    .where(await waitsFor(tx, access, me, "mine"))
    .orderBy(submissions.at, submissions.placeId)
    .limit(200);
  const names = namesFor(access, me);
  return firstOf(
    asking,
    rows.flatMap(({ row }): DeskRow[] => {
      const place = placeOf(access.index, row.placeId);
      if (!place) return [];
      const version = versionName(row);
      return [
        {
          key: `approval:${row.placeId}`,
          heading: "waiting",
          words: `${names.person(row.by)} gives in version ${version} of ${titled(place)}`,
          place: named(place),
          since: row.at.toISOString(),
          otherwise: "readers go on with the version before",
          lines: row.note ? [`“${row.note}”`] : [],
          acts: [
            { key: "a", name: "Approve", how: { do: "approve", place: row.placeId, version } },
            { key: "s", name: "Send back …", how: { do: "sendBack", place: row.placeId, version } },
            go("o", "What is new …", `/versions/${encodeURIComponent(row.placeId)}`),
          ],
        },
      ];
    }),
    { heading: "waiting", words: "more to approve", address: "/pages?approval=mine" },
  );
}

const NOTICES_STAND_DAYS = 60;

/** What routines told one of, as far as one may know of it by now. */
export async function noticeRows(asking: Asking): Promise<Told> {
  const { tx, access, me, who } = asking;
  const rows = await tx
    .select()
    .from(notices)
    .where(
      and(
        eq(notices.personId, who),
        eq(notices.kind, "routine"),
        isNull(notices.readAt),
        sql`${notices.at} > ${new Date(access.at - NOTICES_STAND_DAYS * DAY).toISOString()}::timestamptz`,
      ),
    )
    .orderBy(desc(notices.at))
    .limit(100);
  const mine = rows.some(({ about }) => about.guests) ? await broughtInBy(tx, who) : new Set<string>();
  const names = namesFor(access, me);
  return firstOf(
    asking,
    rows.flatMap(({ id, at, about: { name = "", note = "", pages = "", guests = "" } }): DeskRow[] => {
      const places = pages.split(",").flatMap((page) => placeOf(access.index, page) ?? []);
      const seen = places.filter((place) => maySee(access, me, place) && mayRead(access, me, place));
      const people = guests.split(",").filter((guest) => mine.has(guest));
      const count = seen.length + people.length;
      if (count === 0) return [];
      const [only] = seen;
      const what = people.length > 0 ? "guest" : "page";
      return [
        {
          key: `notice:${id}`,
          heading: "waiting",
          words: `“${name}” tells you of ${count === 1 && only ? titled(only) : count === 1 ? `${names.person(people[0] ?? "")}, your guest` : `${count} ${what}s`}`,
          place: count === 1 && only ? named(only) : null,
          since: at.toISOString(),
          otherwise: "nothing: it is told again in a month",
          lines: [note, ...seen.slice(0, 8).map(titled), ...people.slice(0, 8).map((guest) => names.person(guest))],
          acts: [
            { key: "r", name: "Read", how: { do: "read", notice: id } },
            ...(count === 1 && only ? [go("o", "Open it …", slip(only.place.id))] : []),
          ],
        },
      ];
    }),
    { heading: "waiting", words: "older notices", address: "/desk" },
  );
}
