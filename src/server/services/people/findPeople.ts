/** Finding people and groups by name: for members, who may know that they exist. */
import type { FoundPeople } from "../../../contracts/people.ts";
import { type AccessIndex, peopleOf } from "../../../core/access/index/index.ts";
import { readAccess } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { groupName, inOrder, plain } from "./names.ts";

const MOST = 12;
const MOST_GROUPS_TOLD = 3;

/** How well a name fits what was typed: 0 its beginning, 1 the beginning of a word in it, 2 somewhere; null not at all. */
function fit(name: string, words: string): 0 | 1 | 2 | null {
  const i = name.indexOf(words);
  if (i < 0) return null;
  if (i === 0) return 0;
  return /[\s\-'(]/.test(name[i - 1] ?? "") ? 1 : 2;
}

/** The best of a list: never all of it, whatever its length. */
function best<T extends { id: string; name?: string }>(all: readonly T[], words: string): T[] {
  const found: [T[], T[], T[]] = [[], [], []];
  for (const { it, plain: name } of inOrder(all)) {
    const rank = fit(name, words);
    if (rank !== null && found[rank].length < MOST) found[rank].push(it);
    if (found[0].length === MOST) break;
  }
  return found.flat().slice(0, MOST);
}

/** Which groups hold a person directly, for telling two of one name apart. */
const groupsOf = (index: AccessIndex, id: string): string[] =>
  (index.holders.get(`person:${id}`) ?? []).slice(0, MOST_GROUPS_TOLD).map((group) => groupName(index, group));

/** The first few groups and people whose name fits the words; without words, the first by name. */
export async function findPeople(words: string): Promise<FoundPeople> {
  return inSnapshot(async (tx) => {
    const { index, at } = await readAccess(tx);
    const wanted = plain(words.trim());
    return {
      groups: best(index.document.groups, wanted).map(({ id, name }) => ({
        id,
        name: name ?? id,
        people: peopleOf(index, { group: id }, at).length,
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
