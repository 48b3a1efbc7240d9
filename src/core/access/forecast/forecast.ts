/** What changes by itself in the time to come: grants, passes and people's time that end, pages that go live or into the archive (section 5, "for a future instant"). */
import type { AccessIndex } from "../index/index.ts";
import { type Edit, endOf, type Grant, type Instant, instantAt, type Pass, type Person } from "../model/index.ts";
import { type Ripple, ripple } from "../ripple/index.ts";
import { update } from "../update/index.ts";

/** Something set to happen to a page at an instant; `refused`: why it will not, its starter not being able to any more. */
export interface Scheduled {
  place: string;
  what: "live" | "archive";
  at: Instant;
  refused: string | null;
  /** The edits that it comes to on a site as it is by then. */
  edits(index: AccessIndex): Edit[];
}

export type Coming =
  | { what: "grant"; at: Instant; place: string; grant: Grant }
  | { what: "pass"; at: Instant; place: string; pass: Pass }
  | { what: "person"; at: Instant; person: Person }
  | ({ what: "live" | "archive" } & Scheduled);

/** Everything that ends or begins by itself after one instant and up to another (milliseconds since the epoch), the nearest first. */
export function comings({ document }: AccessIndex, schedules: readonly Scheduled[], from: Instant, to: Instant): Coming[] {
  const within = (until: string | null | undefined): Instant | null => {
    const end = endOf(until);
    return end > from && end <= to ? instantAt(end) : null;
  };
  const grants = document.places.flatMap((place) =>
    place.grants.flatMap((grant): Coming[] => {
      const at = within(grant.until);
      return at === null ? [] : [{ what: "grant", at, place: place.id, grant }];
    }),
  );
  const passes = document.passes.flatMap((pass): Coming[] => {
    const at = pass.revoked ? null : within(pass.until);
    return at === null ? [] : [{ what: "pass", at, place: pass.place, pass }];
  });
  const people = document.people.flatMap((person): Coming[] => {
    const at = person.status === "active" ? within(person.until) : null;
    return at === null ? [] : [{ what: "person", at, person }];
  });
  const set = schedules.filter(({ at }) => at > from && at <= to);
  return [...grants, ...passes, ...people, ...set].sort((a, b) => a.at - b.at);
}

/** The edits that would bring about now what comes by itself then; none where it is refused. */
function editsOf(index: AccessIndex, coming: Coming): Edit[] {
  switch (coming.what) {
    case "grant":
      return [{ kind: "grant", place: coming.place, remove: coming.grant }];
    case "pass":
      return [{ kind: "pass", pass: coming.pass.id, remove: coming.pass, put: { ...coming.pass, revoked: true } }];
    case "person":
      return [{ kind: "person", person: coming.person.id, remove: coming.person, put: { ...coming.person, status: "suspended" } }];
    default:
      return coming.refused === null ? coming.edits(index) : [];
  }
}

/**
 * What each of some comings does to whom, one after the other: each ripple is on top of what came before it. `at` is the
 * instant the rules are looked at (now): what ends later still holds. A coming that does not fit any more does nothing (null).
 */
export function* rippling(index: AccessIndex, list: readonly Coming[], at: Instant): IterableIterator<Ripple | null> {
  let before = index;
  for (const coming of list) {
    const edits = editsOf(before, coming);
    const updated = edits.length === 0 ? null : update(before, edits);
    if (!updated?.ok) {
      yield null;
      continue;
    }
    yield ripple(before, updated.index, at);
    before = updated.index;
  }
}
