/** Who may write a page, and what may be written: asked wherever words come in. */
import { PUBLISH, REVISE } from "../../core/access/abilities.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../core/access/accessIndex.ts";
import { effectiveSet, ownsAsMember } from "../../core/access/evaluate.ts";
import { bodyErrorSentence, checkBody, type PageBody } from "../../core/content/body.ts";
import { type Access, seenPlace, subjectFor } from "../access/current.ts";
import { badRequest, notThere, refused } from "../http/trouble.ts";

/** The page, if this person may write it. Throws alike for hidden and missing ones. */
export function writable(access: Access, writer: string, placeId: string): { place: CompiledPlace; set: number } {
  const me = subjectFor(access, writer);
  const place = seenPlace(access, me, placeId);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  const set = effectiveSet(access.index, me, place, access.at);
  if (!(set & REVISE)) throw refused("You may read this, but not write it: that needs Writer.");
  return { place, set };
}

/** Whether somebody may publish a page: by `publish` on it or, of an unpublished one they own, by `publish` where it stands (6a). */
export function mayPublish({ index, at }: Access, me: CompiledSubject, place: CompiledPlace): boolean {
  const publishes = (it: CompiledPlace | undefined) => it !== undefined && (effectiveSet(index, me, it, at) & PUBLISH) !== 0;
  return publishes(place) || (place.unpublished && ownsAsMember(me, place) && publishes(placeOf(index, place.place.parent ?? "")));
}

/** The body, if it is sound; else every error, with the block it is in. */
export function checkedBody(body: PageBody): PageBody {
  const errors = checkBody(body);
  if (errors.length > 0)
    throw badRequest(`This text cannot be kept. ${[...new Set(errors.map((it) => bodyErrorSentence(it, body)))].join(" ")}`, {
      body: errors,
    });
  return body;
}
