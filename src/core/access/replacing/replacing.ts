import { type AccessDocument, distinct, type Edit, fenceKey, type Grant, grantKey, type Principal, principalKey } from "../model/index.ts";

/** Where somebody is named: at which places, and whether in groups and pledges as well. */
export interface Reach {
  /** Only rules at places of which this says yes. */
  place(id: string): boolean;
  groups: boolean;
  pledges: boolean;
}

export const EVERYWHERE: Reach = { place: () => true, groups: true, pledges: true };

/** Grants that name somebody, each with its place; one that stands twice is one. */
export function grantsNaming({ places }: Pick<AccessDocument, "places">, who: Principal): { place: string; grant: Grant }[] {
  const key = principalKey(who);
  return places.flatMap(({ id, grants }) =>
    distinct(grants, grantKey)
      .filter(({ to }) => principalKey(to) === key)
      .map((grant) => ({ place: id, grant })),
  );
}

/** Says of each key whether it is to be put: not where it stands already, nor a second time. */
function putOnce(standing: readonly string[]): (key: string) => boolean {
  const known = new Set(standing);
  return (key) => !known.has(key) && known.add(key) !== undefined;
}

/**
 * The edits that put one person or group in the place of another wherever rules name it (access-model.md, 2 and 3): grants,
 * fences, membership of groups, pledges. What `by` has already is not given twice. Nothing is judged here: what `by` may
 * not hold (a guest as Keeper) is refused where edits are checked.
 */
export function replacing(document: AccessDocument, who: Principal, by: Principal, reach: Reach = EVERYWHERE): Edit[] {
  const [old, put] = [principalKey(who), principalKey(by)];
  return [
    ...document.places.filter(({ id }) => reach.place(id)).flatMap((place) => [...grantsAt(place), ...fencesAt(place)]),
    ...(reach.groups ? memberships() : []),
    ...(reach.pledges ? pledges() : []),
  ];

  function grantsAt(place: AccessDocument["places"][number]): Edit[] {
    const put = putOnce(place.grants.map(grantKey));
    return grantsNaming({ places: [place] }, who).map(({ grant: remove }): Edit => {
      const made = { ...remove, to: by };
      return { kind: "grant", place: place.id, remove, ...(put(grantKey(made)) ? { put: made } : {}) };
    });
  }

  function fencesAt({ id, fences }: AccessDocument["places"][number]): Edit[] {
    const put = putOnce(fences.map(fenceKey));
    return distinct(fences, fenceKey)
      .filter(({ admits }) => admits.some((it) => principalKey(it) === old))
      .map((remove): Edit => {
        const admits = distinct(
          remove.admits.map((it) => (principalKey(it) === old ? by : it)),
          principalKey,
        );
        const made = { ...remove, admits };
        return { kind: "fence", place: id, remove, ...(put(fenceKey(made)) ? { put: made } : {}) };
      });
  }

  function memberships(): Edit[] {
    if ("audience" in by) return [];
    return document.groups.flatMap(({ id, members }): Edit[] => {
      const remove = members.find((it) => principalKey(it) === old);
      // A group does not go into itself.
      const fits = !members.some((it) => principalKey(it) === put) && !("group" in by && by.group === id);
      return remove
        ? [{ kind: "member", group: id, remove }, ...(fits ? [{ kind: "member", group: id, put: by } satisfies Edit] : [])]
        : [];
    });
  }

  function pledges(): Edit[] {
    if ("audience" in by) return [];
    return document.pledges
      .filter(({ who: covered }) => principalKey(covered) === old)
      .map((remove): Edit => ({ kind: "pledge", pledge: remove.id, remove, put: { ...remove, who: by } }));
  }
}
