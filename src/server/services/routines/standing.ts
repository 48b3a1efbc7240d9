/**
 * Who keeps routines, and as whom they run (lifecycle.md, "Routines": "it can do only what that person could"). Whoever keeps
 * the space or the site sets them. They run as whoever set them; only site keepers choose somebody else, since they may do
 * all of it anyway: nobody gets another's rights by a routine.
 */
import { type CompiledPlace, type CompiledSubject, isActive, placeOf, siteOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, isKeeper, mayNot, maySee } from "../../access/current.ts";
import type { routines } from "../../db/schema/index.ts";

export type RoutineRecord = typeof routines.$inferSelect;

/** The space a routine is confined to, or the site; undefined where that is gone. */
export const scopeOf = ({ index }: Access, spaceId: string | null): CompiledPlace | undefined =>
  spaceId === null ? siteOf(index) : placeOf(index, spaceId);

/** Whether somebody keeps the routines of a space, or of the site. */
export function keepsRoutines(access: Access, me: CompiledSubject, spaceId: string | null): boolean {
  const scope = scopeOf(access, spaceId);
  return scope !== undefined && maySee(access, me, scope) && mayNot(access, me, "changeSpace", scope) === null;
}

/** Whether somebody may set, switch on and run a routine that runs as somebody. */
export const maySetAs = (access: Access, me: CompiledSubject, as: string): boolean => me.person?.id === as || isKeeper(access, me);

/** As whom a routine runs: a member who is here; undefined otherwise. */
export function runnerOf({ index, at }: Access, id: string): CompiledSubject | undefined {
  const subject = subjectOf(index, { person: id });
  return subject?.person?.kind === "member" && isActive(subject, at) ? subject : undefined;
}

/** Why nothing runs in a space, or on the site; null: it does. */
export function whyShut(access: Access, spaceId: string | null): string | null {
  const scope = scopeOf(access, spaceId);
  if (!scope) return "Its space is gone.";
  return scope.place.kind === "space" && scope.place.state !== "live" ? `Its space is ${scope.place.state}.` : null;
}

/** Why a routine does not run as things stand, for those who keep it to read; null: it does. */
export function whyNot(access: Access, { spaceId, asId, setBy }: Pick<RoutineRecord, "spaceId" | "asId" | "setBy">): string | null {
  const shut = whyShut(access, spaceId);
  if (shut !== null) return shut;
  const runner = runnerOf(access, asId);
  const name = subjectOf(access.index, { person: asId })?.person?.name ?? "Whoever it runs as";
  if (!runner) return `${name}, as whom it runs, is no longer let in. Let it run as somebody else.`;
  if (keepsRoutines(access, runner, spaceId)) return null;
  const setter = subjectOf(access.index, { person: setBy });
  const stands = setter !== undefined && isActive(setter, access.at) && isKeeper(access, setter);
  return stands ? null : `${name}, as whom it runs, does not keep ${spaceId === null ? "the site" : "this space"} any more. Set it anew.`;
}
