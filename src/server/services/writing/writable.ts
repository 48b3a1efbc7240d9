import type { CompiledPlace, CompiledSubject } from "../../../core/access/index/index.ts";
import { bodyErrorSentence, checkBody, type PageBody } from "../../../core/content/index.ts";
import { type Access, need, seenPlace, subjectFor } from "../../access/current.ts";
import { badRequest, notThere } from "../../trouble.ts";

/** The page, if this person may write it. Throws alike for hidden and missing ones. */
export function writable(access: Access, writer: string, placeId: string): { place: CompiledPlace; me: CompiledSubject } {
  const me = subjectFor(access, writer);
  const place = seenPlace(access, me, placeId);
  if (place.place.kind !== "page" && place.place.kind !== "bulletin") throw notThere();
  need(access, me, "write", place);
  return { place, me };
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
