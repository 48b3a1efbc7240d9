/** Exports: the access document, and the effective access of a part or of the whole site; now, or as of an instant. */
import { eq } from "drizzle-orm";
import { documentNames, type Names } from "../../../../core/access/explain/index.ts";
import { type AccessIndex, siteOf } from "../../../../core/access/index/index.ts";
import { type AccessDocument, abilitiesIn, grantKey, type Seq } from "../../../../core/access/model/index.ts";
import { inSnapshot, type Tx } from "../../../db/client.ts";
import { holds } from "../../../db/document.ts";
import { grants, ledger } from "../../../db/schema/index.ts";
import { accessAt } from "../../forecast/ahead.ts";
import { CLASS_FILES, type ClassFile, classRows } from "./classes.ts";
import { countLines, EFFECTIVE_COLUMNS, effectiveLines, extentOf, type Part, type Since, sinceKey } from "./effective.ts";
import { type Format, streamed } from "./formats.ts";

/** Everything by its name: whoever exports keeps the site. */
function allNames(index: AccessIndex): Names {
  const names = documentNames(index);
  return { ...names, place: (id) => (id === siteOf(index).place.id ? "the site" : names.place(id)) };
}

/** When each grant that stood after a change came to stand. */
async function sinceWhen(tx: Tx, seq: Seq): Promise<Since> {
  const rows = await tx
    .select({ place: grants.placeId, to: grants.to, abilities: grants.abilities, until: grants.until, draft: grants.draft, at: ledger.at })
    .from(grants)
    .innerJoin(ledger, eq(ledger.seq, grants.fromSeq))
    .where(holds(grants, seq));
  return new Map(
    rows.map(({ place, to, abilities, until, draft, at }) => {
      const grant = {
        to,
        abilities: abilitiesIn(abilities),
        ...(until ? { until: until.toISOString() } : {}),
        ...(draft ? { draft } : {}),
      };
      return [sinceKey(place, grantKey(grant)), at.toISOString()];
    }),
  );
}

export const exportDocument = (asOf?: string): Promise<AccessDocument> =>
  inSnapshot(async (tx) => (await accessAt(tx, asOf)).index.document);

/** The effective access of a part, row by row. */
export async function exportEffective(part: Part, format: Format, asOf?: string): Promise<Response> {
  const { index, at, since } = await inSnapshot(async (tx) => {
    const access = await accessAt(tx, asOf);
    return { ...access, since: await sinceWhen(tx, access.seq) };
  });
  const extent = extentOf(index, part);
  function* lines() {
    for (const { who, where, what } of effectiveLines(index, extent, at, allNames(index), since)) yield { parts: [who, where, what] };
  }
  const name = `access-${"space" in part ? part.space : "subtree" in part ? part.subtree : part.person}`;
  return streamed(format, name, EFFECTIVE_COLUMNS, lines(), () => countLines(index, extent, at));
}

/** One of the files of the class form of the whole site. */
export async function exportClasses(file: ClassFile, format: Format, asOf?: string): Promise<Response> {
  const { index, at } = await inSnapshot((tx) => accessAt(tx, asOf));
  const count = () => {
    let rows = 0;
    for (const _ of classRows(index, file, at)) rows++;
    return rows;
  };
  return streamed(format, `access-classes-${file}`, CLASS_FILES[file], classRows(index, file, at), count);
}
