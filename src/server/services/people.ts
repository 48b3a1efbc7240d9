/** Finding people and groups by name: for members, who may know that they exist. */
import type { FoundPeople } from "../../contracts/answers.ts";
import { type AccessIndex, peopleOf } from "../../core/access/accessIndex.ts";
import { readAccess } from "../access/current.ts";
import { inSnapshot } from "../db/client.ts";

const MOST = 12;
const MOST_GROUPS_TOLD = 3;

/** For comparing names as people type them: without accents, in small letters. */
const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();

/** How well a name fits what was typed: 0 its beginning, 1 the beginning of a word in it, 2 somewhere; null not at all. */
function fit(name: string, words: string): number | null {
  const at = plain(name).indexOf(words);
  if (at < 0) return null;
  if (at === 0) return 0;
  return /[\s\-'(]/.test(plain(name)[at - 1] ?? "") ? 1 : 2;
}

/** The best of a list: never all of it, whatever its length. */
function best<T extends { id: string; name?: string }>(all: readonly T[], words: string): T[] {
  const fitting = all.flatMap((it) => {
    const rank = fit(it.name ?? it.id, words);
    return rank === null ? [] : [{ it, rank, name: it.name ?? it.id }];
  });
  return fitting
    .sort((a, b) => a.rank - b.rank || a.name.localeCompare(b.name))
    .slice(0, MOST)
    .map(({ it }) => it);
}

/** Which groups hold a person directly, for telling two of one name apart. */
const groupsOf = (index: AccessIndex, id: string): string[] =>
  index.document.groups
    .filter((group) => group.members.some((member) => "person" in member && member.person === id))
    .slice(0, MOST_GROUPS_TOLD)
    .map((group) => group.name ?? group.id);

/** The first few groups and people whose name fits the words; without words, the first by name. */
export async function findPeople(words: string): Promise<FoundPeople> {
  return inSnapshot(async (tx) => {
    const { index } = await readAccess(tx);
    const wanted = plain(words.trim());
    return {
      groups: best(index.document.groups, wanted).map(({ id, name }) => ({
        id,
        name: name ?? id,
        people: peopleOf(index, { group: id }).length,
      })),
      people: best(index.document.people, wanted).map(({ id, name, kind }) => ({
        id,
        name: name ?? id,
        kind,
        groups: groupsOf(index, id),
      })),
    };
  });
}
