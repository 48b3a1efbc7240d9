/** The publish sheet: who will be able to read a page once it is live, and what is in the way (lifecycle.md, "Before it goes live"). */

import { desc, eq } from "drizzle-orm";
import type { PublishSheet } from "../../contracts/answers.ts";
import { READ } from "../../core/access/abilities.ts";
import { type AccessIndex, type CompiledPlace, type CompiledSubject, placeOf } from "../../core/access/accessIndex.ts";
import { compile } from "../../core/access/compile.ts";
import { applyEdits, type Edit } from "../../core/access/edits.ts";
import { effectiveSet } from "../../core/access/evaluate.ts";
import { type PageBody, pagesLinkedFrom } from "../../core/content/body.ts";
import { readAccess, seenPlace, subjectFor } from "../access/current.ts";
import { inSnapshot } from "../db/client.ts";
import { versions } from "../db/schema.ts";
import { previewChange } from "./change.ts";
import { namesFor } from "./naming.ts";

const readersOf = (index: AccessIndex, place: CompiledPlace, at: number): CompiledSubject[] =>
  index.subjects.filter((subject) => (effectiveSet(index, subject, place, at) & READ) !== 0);

export async function readPublishSheet(asker: string, placeId: string): Promise<PublishSheet> {
  const { edits, sheet } = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    const me = subjectFor(access, asker);
    const place = seenPlace(access, me, placeId);
    const { state } = place.place;
    const edits: Edit[] = state === "live" ? [] : [{ kind: "state", place: placeId, from: { state }, to: { state: "live" } }];
    const applied = applyEdits(access.index.document, edits);
    const after = applied.ok ? compile(applied.document) : access.index;
    const here = placeOf(after, placeId) as CompiledPlace;
    const readers = readersOf(after, here, access.at);
    const [newest] = await tx
      .select({ body: versions.body })
      .from(versions)
      .where(eq(versions.placeId, placeId))
      .orderBy(desc(versions.major), desc(versions.minor))
      .limit(1);
    const names = namesFor(access, me);
    const deadLinks = pagesLinkedFrom((newest?.body as PageBody) ?? { schema: 1, content: [] }).flatMap((id) => {
      const target = placeOf(after, id);
      const stopped = target ? readers.filter((reader) => !(effectiveSet(after, reader, target, access.at) & READ)) : readers;
      return stopped.length === 0
        ? []
        : [{ title: names.place(id), readers: stopped.length, outside: stopped.some((it) => it.class !== "members") }];
    });
    return {
      edits,
      sheet: {
        readers: {
          public: readers.some((it) => "public" in it.subject),
          passes: readers.filter((it) => it.pass).length,
          guests: readers.filter((it) => it.class === "guests").map((it) => names.person(it.person?.id ?? "")),
          members: readers.filter((it) => it.class === "members").length,
        },
        deadLinks,
      },
    };
  });
  return { ...sheet, preview: edits.length > 0 ? await previewChange(asker, edits, []) : null };
}
