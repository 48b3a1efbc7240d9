/** Which pages outsiders read: the public, and whoever holds a pass that works. */
import { below, type CompiledPlace, type CompiledSubject, placeOf, subjectOf } from "../../../core/access/index/index.ts";
import { type Access, mayRead } from "../../access/current.ts";

const inside = new WeakMap<Access, ReadonlySet<CompiledPlace>>();

/** Pages that passes open, of this moment. */
function byPasses(access: Access): ReadonlySet<CompiledPlace> {
  const known = inside.get(access);
  if (known) return known;
  const { index } = access;
  const open = new Set<CompiledPlace>();
  for (const subject of index.subjects) {
    const { pass } = subject;
    const root = pass ? placeOf(index, pass.place) : undefined;
    if (!pass || !root) continue;
    for (const place of pass.below ? below(index, root) : [root]) if (!open.has(place) && mayRead(access, subject, place)) open.add(place);
  }
  inside.set(access, open);
  return open;
}

/** Who outside reads a place; null: nobody. */
export function outsideReaders(access: Access, place: CompiledPlace): "public" | "passes" | null {
  const everybody = subjectOf(access.index, { public: true }) as CompiledSubject;
  if (mayRead(access, everybody, place)) return "public";
  return byPasses(access).has(place) ? "passes" : null;
}
