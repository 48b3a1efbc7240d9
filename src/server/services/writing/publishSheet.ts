/** The publish sheet: who will be able to read a page once it is live, and what is in the way (lifecycle.md, "Before it goes live"). */
import type { PublishSheet } from "../../../contracts/writing.ts";
import { decide } from "../../../core/access/decide/index.ts";
import { principalName } from "../../../core/access/explain/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Instant, READ } from "../../../core/access/model/index.ts";
import { type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { type Access, mayNot, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { knowsPlace, mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { publishEdits } from "./publishing.ts";
import { newestVersion } from "./versions.ts";

const reads = (index: AccessIndex, subject: CompiledSubject, place: CompiledPlace, at: Instant): boolean =>
  (decide(index, subject.number, place.number, at) & READ) !== 0;

/** Links that some readers cannot follow, as far as whoever publishes may know of where they lead. */
function deadLinks(access: Access, me: CompiledSubject, after: AccessIndex, readers: readonly CompiledSubject[], body: PageBody) {
  const names = namesFor(access, me);
  return pagesLinkedFrom(body).flatMap((id) => {
    // What one may not know of and what is not there are told alike: nobody can follow it.
    const target = knowsPlace(access, me, id) ? placeOf(after, id) : undefined;
    const stopped = target ? readers.filter((reader) => !reads(after, reader, target, access.at)) : readers;
    if (stopped.length === 0) return [];
    return [{ title: names.place(id), readers: stopped.length, outside: stopped.some((it) => it.class !== "members") }];
  });
}

/** What publishing a page would do, in one snapshot: for those who may publish it. */
export async function readPublishSheet(asker: string, placeId: string, keepHelpers = false): Promise<PublishSheet> {
  return inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
    need(access, me, "seePublishSheet", place);
    const edits = publishEdits(access, placeId, keepHelpers);
    const planned = edits.length > 0 ? await planChange(tx, { maker: asker, edits, writesLive: true }) : null;
    const after = planned?.after ?? access.index;
    const here = placeOf(after, placeId) as CompiledPlace;
    const readers = after.subjects.filter((subject) => reads(after, subject, here, access.at));
    const guests = readers.filter((it) => it.person && it.class === "guests");
    const names = namesFor(access, me);
    const newest = await newestVersion(tx, placeId);
    const helpers = place.unpublished ? place.place.grants.filter((grant) => grant.draft) : [];
    return {
      readers: {
        public: readers.some((it) => "public" in it.subject),
        passes: readers.filter((it) => it.pass).length,
        guests: guests.length,
        guestNames: mayKnowOthers(access, me, place) ? guests.map((it) => names.person(it.person?.id ?? "")) : [],
        members: readers.filter((it) => it.class === "members").length,
      },
      deadLinks: deadLinks(access, me, after, readers, newest.body),
      helpers: helpers.map((grant) => principalName(grant.to, names)),
      mayKeepHelpers: mayNot(access, me, "changeRules", place) === null,
      preview: planned ? previewOf(planned) : null,
    };
  });
}
