/** A routine as it is being set, before it is kept. */
import type { RoutineRow, SaveRoutineBody } from "../../contracts/routines.ts";
import { type Routine, type RoutineNames, routineSentence, type Starting } from "../../core/routines/index.ts";

export interface Draft {
  name: string;
  space: string | null;
  which: Routine["which"];
  action: Routine["action"];
  cron: string;
  zone: string;
  most: number;
  as: { id: string; name: string };
  /** Names of what it names by id. */
  names: Readonly<Record<string, string>>;
}

export const draftOf = (row: RoutineRow): Draft => ({
  name: row.name,
  space: row.space?.id ?? null,
  which: row.which,
  action: row.action,
  cron: row.cron,
  zone: row.zone,
  most: row.most,
  as: row.as,
  names: { ...row.names, ...(row.space ? { [row.space.id]: row.space.name } : {}) },
});

export const hereZone = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

export function startedFrom(
  { name, routine: { cron, ...routine } }: Starting,
  { me, scope }: { me: Draft["as"]; scope: { id: string | null; name: string } },
): Draft {
  const names = scope.id === null ? {} : { [scope.id]: scope.name };
  return { name, ...routine, cron, zone: hereZone(), space: scope.id, as: me, names };
}

/** What goes to the server. */
export const bodyOf = ({ name, space, which, action, cron, zone, most, as }: Draft, on: boolean): SaveRoutineBody => ({
  name,
  space,
  which: which as SaveRoutineBody["which"],
  action: action as SaveRoutineBody["action"],
  cron,
  zone,
  most,
  as: as.id,
  on,
});

export const namesOf = ({ names }: Pick<Draft, "names">): RoutineNames => {
  const name = (id: string) => names[id] ?? "…";
  return { place: (id) => `“${name(id)}”`, person: name, group: name };
};

export const sentenceOf = (draft: Draft): string =>
  routineSentence(
    { which: draft.which, action: draft.action, schedule: { cron: draft.cron, zone: draft.zone }, most: draft.most },
    namesOf(draft),
    draft.space,
  );
