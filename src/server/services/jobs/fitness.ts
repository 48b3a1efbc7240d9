/** Whether an act can be done to one of many places, and whether somebody may. */
import { type CompiledSubject, placeOf } from "../../../core/access/index/index.ts";
import { actFits, IS_NOW, isErasable, type LifeActName } from "../../../core/lifecycle/index.ts";
import { type Access, mayNot } from "../../access/current.ts";
import { knowsPlace } from "../../access/known.ts";
import { policyOf } from "../life/planning.ts";

const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

export function fitness(
  access: Access,
  me: CompiledSubject,
  act: LifeActName,
  id: string,
): { unfit: string | null; refusal: string | null } {
  const place = placeOf(access.index, id);
  if (!place || !knowsPlace(access, me, id)) return { unfit: "It is not there any more, or not open to you.", refusal: null };
  const fits = act === "erase" ? isErasable(access.index, place) : actFits(act, place.place.kind, place.place);
  if (!fits) return { unfit: sentence(IS_NOW[place.place.state]), refusal: null };
  return { unfit: null, refusal: mayNot(access, me, policyOf(act, place), place) };
}
