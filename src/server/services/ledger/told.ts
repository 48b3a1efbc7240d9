/** What of a ledger entry somebody is told: edit by edit, each to those who may see that one (access-model.md, 6a). */
import type { CompiledSubject } from "../../../core/access/index/index.ts";
import { type Edit, placeOfEdit } from "../../../core/access/model/index.ts";
import { type Access, keepsSite } from "../../access/current.ts";
import { knowsOthersAt, knowsPlace } from "../../access/known.ts";

/** How much of entries an asker is told of. */
export interface Told {
  /** Whether what stands there about a place is for them. */
  place(id: string): boolean;
  edit(edit: Edit): boolean;
}

/** Of an entry by `maker`: what is about places the asker administers and, of their own, whatever they may still see. */
export function toldOf(access: Access, me: CompiledSubject, maker: string | null): Told {
  const own = maker !== null && maker === me.person?.id;
  const keeper = me.person !== null && keepsSite(access, me.person.id);
  const place = (id: string) => knowsOthersAt(access, me, id) || (own && knowsPlace(access, me, id));
  return {
    place,
    // Edits about people, groups and pledges were made by site keepers, and are for them.
    edit: (edit) => {
      const id = placeOfEdit(edit);
      return id === null ? keeper || own : place(id);
    },
  };
}

/** Whether somebody may see a ledger entry: some of it is about a place they administer, or they made it, or they keep the site. */
export function maySeeEntry(access: Access, me: CompiledSubject, entry: { maker: string | null; places: string[] }): boolean {
  if (me.person === null) return false;
  if (entry.maker === me.person.id || keepsSite(access, me.person.id)) return true;
  return entry.places.some((id) => knowsOthersAt(access, me, id));
}
