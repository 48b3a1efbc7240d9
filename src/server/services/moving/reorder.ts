/** Giving a page another place among the pages beside it (lifecycle.md, "Order"): nobody's access changes. */

import type { Made } from "../../../contracts/change.ts";
import type { ReorderBody, Standing } from "../../../contracts/moving.ts";
import { type CompiledPlace, type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { type Access, mayNot, maySee, need, readAccess, seenPlace, standing, subjectFor } from "../../access/current.ts";
import { inChange, type Tx } from "../../db/client.ts";
import { badRequest, notThere } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { pagesIn, slotAfter } from "../change/order.ts";

/** What somebody may do in the place that a page stands in. */
function above(access: Access, me: CompiledSubject, place: CompiledPlace) {
  return { there: standing(access, me, access.index.places[place.parent] as CompiledPlace).set };
}

/** Where a page stands among those in use that the asker may see, and what would put it one earlier or later. */
export async function standingAmong(tx: Tx, access: Access, me: CompiledSubject, place: CompiledPlace): Promise<Standing | null> {
  if (place.place.kind !== "page") return null;
  const list = (await pagesIn(tx, place.place.parent ?? "")).filter(({ id }) => {
    const page = placeOf(access.index, id);
    if (!page || !maySee(access, me, page)) return false;
    return id === place.place.id || (page.place.state !== "archived" && page.place.state !== "binned");
  });
  const i = list.findIndex(({ id }) => id === place.place.id);
  if (i < 0) return null;
  const may = mayNot(access, me, "move", place) === null && mayNot(access, me, "moveInto", place, above(access, me, place)) === null;
  const next = list[i + 1];
  return {
    nth: i + 1,
    of: list.length,
    earlier: may && i > 0 ? { after: list[i - 2]?.id ?? null } : null,
    later: may && next ? { after: next.id } : null,
  };
}

export async function reorder(maker: string, { place: id, after = null }: ReorderBody): Promise<Made> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, maker);
    const place = seenPlace(access, me, id);
    if (after !== null) seenPlace(access, me, after);
    if (place.place.kind !== "page") throw badRequest("Only pages are put in an order by hand: bulletins go by date.");
    need(access, me, "move", place);
    need(access, me, "moveInto", place, above(access, me, place));
    const list = await pagesIn(tx, place.place.parent ?? "");
    const i = list.findIndex((it) => it.id === id);
    const from = list[i]?.slot;
    if (from === undefined) throw notThere();
    if (after !== null && (after === id || !list.some((it) => it.id === after)))
      throw badRequest("A page is put after one that stands in the same place as it does.");
    if ((list[i - 1]?.id ?? null) === after) throw badRequest("It stands there already.");
    const to = slotAfter(
      list.filter((it) => it.id !== id),
      after,
    );
    return { seq: (await makeChange(tx, { maker, edits: [{ kind: "order", place: id, from, to }], act: "order", note: "" })).seq };
  });
}
