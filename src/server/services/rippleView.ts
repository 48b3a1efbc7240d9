/** A ripple as it is shown: with names, the outside first, and places the asker cannot see counted instead of named. */

import { createHash } from "node:crypto";
import type { RippleLine, RippleView } from "../../contracts/answers.ts";
import { type Ability, describeSet, maskOf } from "../../core/access/abilities.ts";
import { type CompiledSubject, placeOf, type SubjectClass } from "../../core/access/accessIndex.ts";
import { countRipple, isEmptyRipple, type Ripple, type RippleEntry } from "../../core/access/ripple.ts";
import { abilityPhrase } from "../../core/access/sentences.ts";
import { type Access, maySee } from "../access/current.ts";
import { namesFor, subjectName } from "./naming.ts";

const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

const phrases = (abilities: readonly Ability[]): string[] => abilities.map(abilityPhrase);

/** "the public and 2 passes", "17 guests"; of the subjects of one class that a pick of entries names. */
function whoOf(name: SubjectClass, entries: readonly RippleEntry[]): { words: string; many: boolean } {
  const subjects = new Set(entries.flatMap((entry) => entry.subjects));
  if (name !== "outsiders") return { words: plural(subjects.size, name.slice(0, -1)), many: subjects.size !== 1 };
  const passes = [...subjects].filter((key) => key !== "public").length;
  const words = [subjects.has("public") ? "the public" : "", passes > 0 ? plural(passes, "pass", "passes") : ""]
    .filter(Boolean)
    .join(" and ");
  return { words, many: subjects.size > 1 };
}

function summaryOf(it: Ripple): RippleView["summary"] {
  return countRipple(it).map((count) => {
    const entries = it.entries.filter((entry) => entry.class === count.class);
    const part = (picked: RippleEntry[], verb: string, places: number) => {
      if (picked.length === 0) return "";
      const { words, many } = whoOf(count.class, picked);
      return `${words} ${many ? verb : `${verb}s`} on ${plural(places, "place")}`;
    };
    const gains = part(
      entries.filter((entry) => entry.gains.length > 0 || entry.oversight === "gained"),
      "gain",
      count.gainedPlaces,
    );
    const losses = part(
      entries.filter((entry) => entry.losses.length > 0 || entry.oversight === "lost"),
      "lose",
      count.lostPlaces,
    );
    return { class: count.class, text: [gains, losses].filter(Boolean).join("; ") };
  });
}

/** Lines that say the same of different subjects become one. */
function gathered(lines: RippleLine[]): RippleLine[] {
  const found = new Map<string, RippleLine>();
  for (const line of lines) {
    const { who, ...rest } = line;
    const key = JSON.stringify(rest);
    const known = found.get(key);
    if (known) known.who.push(...who);
    else found.set(key, line);
  }
  return [...found.values()];
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
    lines: gathered(
      it.entries.map((entry) => {
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
    ),
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
