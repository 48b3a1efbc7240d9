/** The publish sheet: who will be able to read a page once it is live, and what is in the way (lifecycle.md, "Before it goes live"). */
import type { Preview } from "../../../contracts/change.ts";
import type { PublishSheet, PublishSheetQuery } from "../../../contracts/writing.ts";
import { principalName } from "../../../core/access/explain/index.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { findingsIn, lookFor, passagesOf } from "../../../core/findings/index.ts";
import { type Access, mayNot, need, readAccess, seenPlace, subjectFor } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { notThere } from "../../trouble.ts";
import { asksApproval, publishesWithReason } from "../approval/standing.ts";
import { planChange } from "../change/plan.ts";
import { previewOf } from "../change/preview.ts";
import { readHouseRules } from "../house/houseRules.ts";
import { leadNowhere, Readers } from "../links/linksHere.ts";
import { chosenVersion, publishEdits, UNAPPROVED } from "./publishing.ts";
import { newestVersion, versionName } from "./versions.ts";

/** Of the house's own words those alone that stand in the text: nobody learns the others by publishing. */
async function houseWordsIn(tx: Tx, body: PageBody): Promise<string[]> {
  const { sensitiveWords } = await readHouseRules(tx);
  const found = findingsIn(passagesOf(body), lookFor(sensitiveWords));
  return [...new Set(found.flatMap(({ kind, found: word }) => (kind === "word" ? [word] : [])))];
}

/** That a version lacks approval: in the way, or lifted by a reason where nobody else could give it. */
async function unapproved(
  tx: Tx,
  access: Access,
  me: CompiledSubject,
  place: CompiledPlace,
  version: { major: number; minor: number; approvedBy: string | null },
): Promise<Preview["refusals"]> {
  if (version.approvedBy !== null || !(await asksApproval(tx, access.index, place))) return [];
  const common = { title: "" };
  if (await publishesWithReason(tx, access, me, place))
    return [{ ...common, code: "reasonNeeded", message: "Nobody else could approve this: publishing it needs a reason." }];
  return [{ ...common, code: "notAllowed", message: UNAPPROVED(versionName(version)) }];
}

/** What publishing a page would do, in one snapshot: for those who may publish it. */
export async function readPublishSheet(asker: string, placeId: string, query: PublishSheetQuery = {}): Promise<PublishSheet> {
  const keepHelpers = query.keepHelpers === "yes";
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
    const preview = previewOf(planned);
    const { version } = query;
    const chosen = version ? (await chosenVersion(tx, placeId, { version })).chosen : await newestVersion(tx, placeId);
    const helpers = place.unpublished ? place.place.grants.filter((grant) => grant.draft) : [];
    return {
      readers: {
        public: readers.some((it) => "public" in it.subject),
        passes: readers.filter((it) => it.pass).length,
        guests: guests.length,
        guestNames: mayKnowOthers(access, me, place) ? guests.map((it) => names.person(it.person?.id ?? "")) : [],
        members: readers.filter((it) => it.class === "members").length,
      },
      deadLinks: leadNowhere(access, me, own, pagesLinkedFrom(chosen.body)),
      houseWords: await houseWordsIn(tx, chosen.body),
      helpers: helpers.map((grant) => principalName(grant.to, names)),
      mayKeepHelpers: mayNot(access, me, "changeRules", place) === null,
      preview: { ...preview, refusals: [...preview.refusals, ...(await unapproved(tx, access, me, place, chosen))] },
    };
  });
}
