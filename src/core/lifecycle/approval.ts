/**
 * Approval (lifecycle.md, "Approval"): where a space asks for it, one version is approved by somebody with `publish` who did
 * not write all that is new since the last live version.
 */
import { may, standingAt } from "../access/authority/index.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, isActive } from "../access/index/index.ts";
import type { Instant } from "../access/model/index.ts";

/** Whether somebody wrote all of it alone: `authors` are those of the versions since the last live one, null where it was Tesoro itself. */
export const wroteAll = (authors: readonly (string | null)[], person: string): boolean =>
  authors.length > 0 && authors.every((it) => it === person);

/**
 * Everybody who may approve at an instant (milliseconds since the epoch) what these authors wrote on a page: active people
 * who may publish it and did not write all of it.
 */
export const ableToApprove = (
  index: AccessIndex,
  place: CompiledPlace,
  authors: readonly (string | null)[],
  at: Instant,
): CompiledSubject[] =>
  index.subjects.filter(
    (it) =>
      it.person !== null &&
      isActive(it, at) &&
      !wroteAll(authors, it.person.id) &&
      may("approve", standingAt(index, it, place, at)) === null,
  );
