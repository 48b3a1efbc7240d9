/** The publish sheet: who will be able to read a page once it is live, and what is in the way (lifecycle.md, "Before it goes live"). */
import type { PublishSheet } from "../../../contracts/writing.ts";
import { principalName } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, placeOf } from "../../../core/access/index/index.ts";
import { type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { findingsIn, lookFor, passagesOf } from "../../../core/findings/index.ts";
import { mayNot, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { leadNowhere, Readers } from "../links/linksHere.ts";
import { publishEdits } from "./publishing.ts";
import { newestVersion } from "./versions.ts";

/** Of the house's own words those alone that stand in the text: nobody learns the others by publishing. */
async function houseWordsIn(tx: Tx, body: PageBody): Promise<string[]> {
  const { sensitiveWords } = await readHouseRules(tx);
  const found = findingsIn(passagesOf(body), lookFor(sensitiveWords));
  return [...new Set(found.flatMap(({ kind, found: word }) => (kind === "word" ? [word] : [])))];
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
    const planned = await planChange(tx, { maker: asker, edits, writesLive: true });
    const { after } = planned;
    const here = placeOf(after, placeId) as CompiledPlace;
    const own = new Readers(access, after, here);
    const readers = own.all;
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
      deadLinks: leadNowhere(access, me, own, pagesLinkedFrom(newest.body)),
      houseWords: await houseWordsIn(tx, newest.body),
      helpers: helpers.map((grant) => principalName(grant.to, names)),
      mayKeepHelpers: mayNot(access, me, "changeRules", place) === null,
      preview: previewOf(planned),
    };
  });
}
