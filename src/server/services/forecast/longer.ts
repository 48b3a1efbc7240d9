/** Ends put off: what is to end by itself goes on for four weeks more. */
import type { Coming } from "../../../core/access/forecast/index.ts";
import type { Edit } from "../../../core/access/model/index.ts";

const LONGER = 28 * 86_400_000;

export type Ending = Extract<Coming, { what: "grant" } | { what: "pass" } | { what: "person" }>;

export const isEnding = (coming: Coming): coming is Ending => coming.what !== "live" && coming.what !== "archive";

/** Until when something goes on whose end is put off. */
export const laterThan = (at: number): string => new Date(at + LONGER).toISOString();

/** The edit that puts an end off. */
export function longer(ending: Ending): Edit {
  const until = laterThan(ending.at);
  switch (ending.what) {
    case "grant":
      return { kind: "grant", place: ending.place, remove: ending.grant, put: { ...ending.grant, until } };
    case "pass":
      return { kind: "pass", pass: ending.pass.id, remove: ending.pass, put: { ...ending.pass, until } };
    case "person":
      return { kind: "person", person: ending.person.id, remove: ending.person, put: { ...ending.person, until } };
  }
}
