/** Names of people and groups: as people type them, and in their order. */
import type { AccessIndex } from "../../../core/access/index/index.ts";

/** For comparing: without accents, in small letters. */
export const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();

interface Named<T> {
  it: T;
  plain: string;
}

const byName = new Intl.Collator("en");
/** Lists in the order of their names: as long as nobody comes or goes, changes of rules keep the list as it is. */
const kept = new WeakMap<readonly object[], Named<unknown>[]>();

export function inOrder<T extends { id: string; name?: string }>(all: readonly T[]): Named<T>[] {
  const known = kept.get(all);
  if (known) return known as Named<T>[];
  const named = all.map((it) => ({ it, name: it.name ?? it.id })).sort((a, b) => byName.compare(a.name, b.name));
  const made = named.map(({ it, name }) => ({ it, plain: plain(name) }));
  kept.set(all, made);
  return made;
}

/** A group by its name, or what stands for one. */
export const groupName = ({ document }: AccessIndex, id: string): string => {
  const group = document.groups.find((it) => it.id === id);
  return group?.name ?? group?.id ?? "a group that is gone";
};
