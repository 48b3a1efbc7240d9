/** A ripple as it is shown: with names, the outside first, and places the asker cannot see counted instead of named. */

import { createHash } from "node:crypto";
import type { RippleView } from "../../contracts/answers.ts";
import { type Ability, describeSet, maskOf } from "../../core/access/abilities.ts";
import { type CompiledSubject, placeOf, type SubjectClass } from "../../core/access/compile.ts";
import { countRipple, isEmptyRipple, type Ripple } from "../../core/access/ripple.ts";
import { abilityPhrase } from "../../core/access/sentences.ts";
import { type Access, maySee } from "../access/current.ts";
import { namesFor, subjectName } from "./naming.ts";

const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

const NAMES: Record<SubjectClass, (count: number) => string> = {
  outsiders: () => "the public or a pass",
  guests: (count) => plural(count, "guest"),
  members: (count) => plural(count, "member"),
};

const phrases = (abilities: readonly Ability[]): string[] => abilities.map(abilityPhrase);

function summaryOf(it: Ripple): RippleView["summary"] {
  return countRipple(it).map((count) => {
    const who = (subjects: number) => {
      const onlyPublic = it.entries.every((entry) => entry.class !== "outsiders" || entry.subjects.every((key) => key === "public"));
      return count.class === "outsiders" && onlyPublic ? "the public" : NAMES[count.class](subjects);
    };
    const gains =
      count.gaining > 0 ? `${who(count.gaining)} gain${count.gaining === 1 ? "s" : ""} on ${plural(count.gainedPlaces, "place")}` : "";
    const losses =
      count.losing > 0 ? `${who(count.losing)} lose${count.losing === 1 ? "s" : ""} on ${plural(count.lostPlaces, "place")}` : "";
    return { class: count.class, text: [gains, losses].filter(Boolean).join("; "), opens: count.gaining > 0 };
  });
}

/** What a change would do, for this asker's eyes. `after` says where things are named: in the rules after the change. */
export function rippleView(access: Access, me: CompiledSubject, it: Ripple): RippleView {
  const names = namesFor(access, me);
  const seen = (id: string) => {
    const place = placeOf(access.index, id);
    return place !== undefined && maySee(access, me, place);
  };
  const title = (id: string) => {
    const place = placeOf(access.index, id)?.place;
    return place?.kind === "site" ? "The site" : (place?.title ?? "");
  };
  const pledges = new Map(access.index.document.pledges.map((pledge) => [pledge.id, pledge.why ?? pledge.id]));
  return {
    empty: isEmptyRipple(it),
    summary: summaryOf(it),
    lines: it.entries.map((entry) => {
      const where = entry.places.filter(seen);
      return {
        class: entry.class,
        who: entry.subjects.map((key) => subjectName(access, names, key)),
        where: where.map((id) => ({ id, title: title(id) })),
        hidden: entry.places.length - where.length,
        before: describeSet(maskOf(entry.before)),
        after: describeSet(maskOf(entry.after)),
        gains: phrases(entry.gains),
        losses: phrases(entry.losses),
        oversight: entry.oversight,
      };
    }),
    pledges: {
      breaks: it.pledges.break.map((violation) => ({
        pledge: violation.pledge,
        why: pledges.get(violation.pledge) ?? violation.pledge,
        witness: subjectName(access, names, violation.subject),
        place: names.place(violation.place),
      })),
      mends: it.pledges.mend.map((id) => pledges.get(id) ?? id),
    },
    closedToAll: it.closedToAll.filter(seen).map(title),
  };
}

/** A short text that two ripples share exactly when they are the same: what was seen is what is applied. */
export const fingerprint = (it: Ripple): string => createHash("sha256").update(JSON.stringify(it)).digest("hex").slice(0, 24);
