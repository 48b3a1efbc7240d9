/** One version of a page as it was, with what stood beside it; and an old one taken up again. */
import { and, asc, eq } from "drizzle-orm";
import type { Beside, TakeUpBody, VersionText } from "../../../contracts/versions.ts";
import { fenceSentence, grantSentence } from "../../../core/access/explain/index.ts";
import { placeOf } from "../../../core/access/index/index.ts";
import { abilitiesIn, type Seq } from "../../../core/access/model/index.ts";
import { type PageBody, pagesLinkedFrom } from "../../../core/content/index.ts";
import { mayRead, maySee } from "../../access/current.ts";
import { mayKnowOthers, namesFor } from "../../access/known.ts";
import { bodyFor } from "../../content/bodies.ts";
import { inSnapshot, type Tx } from "../../db/client.ts";
import { holds } from "../../db/document.ts";
import { fences, grants, places } from "../../db/schema/index.ts";
import { notThere } from "../../trouble.ts";
import { readerAddress, spaceSlugs } from "../reading/addresses.ts";
import { versionNamed } from "../writing/versions.ts";
import { saveVersion } from "../writing/writing.ts";
import { type Opening, openVersions } from "./opening.ts";

/** The rules that stood on a page after a change, in sentences. */
async function rulesThen(tx: Tx, { access, me, place }: Opening, seq: Seq, stance: string): Promise<string[] | null> {
  if (!mayKnowOthers(access, me, place)) return null;
  const names = namesFor(access, me);
  const id = place.place.id;
  const granted = await tx
    .select()
    .from(grants)
    .where(and(eq(grants.placeId, id), holds(grants, seq)))
    .orderBy(asc(grants.rowId));
  const fenced = await tx
    .select()
    .from(fences)
    .where(and(eq(fences.placeId, id), holds(fences, seq)))
    .orderBy(asc(fences.rowId));
  return [
    ...(stance === "fresh" ? ["starts fresh"] : []),
    ...granted.map(({ to, abilities, until, draft }) =>
      grantSentence(
        { to, abilities: abilitiesIn(abilities), ...(until ? { until: until.toISOString() } : {}), ...(draft ? { draft } : {}) },
        names,
      ),
    ),
    ...fenced.map(({ kind, admits }) => `${kind} fence: ${fenceSentence({ kind, admits }, names)}`),
  ];
}

async function besideThen(tx: Tx, opening: Opening, seq: Seq): Promise<Beside> {
  const { access, me, place } = opening;
  const [row] = await tx
    .select()
    .from(places)
    .where(and(eq(places.id, place.place.id), holds(places, seq)));
  if (!row) throw notThere();
  const names = namesFor(access, me);
  const above = placeOf(access.index, row.parentId ?? "");
  return {
    owner: row.ownerId === null ? null : names.person(row.ownerId),
    tags: row.tags,
    above: above && maySee(access, me, above) ? (above.place.title ?? "") : "a place you cannot see",
    rules: await rulesThen(tx, opening, seq, row.stance),
  };
}

async function addressesOf(tx: Tx, { access, me }: Opening, body: PageBody): Promise<Record<string, string>> {
  const slugs = await spaceSlugs(tx);
  return Object.fromEntries(
    pagesLinkedFrom(body).flatMap((id) => {
      const page = placeOf(access.index, id);
      return page && mayRead(access, me, page) ? [[id, readerAddress(slugs, access.index, page)]] : [];
    }),
  );
}

export const readVersion = (asker: string, id: string, name: string): Promise<VersionText> =>
  inSnapshot(async (tx) => {
    const opening = await openVersions(tx, asker, id);
    const { access, me } = opening;
    const version = await versionNamed(tx, id, name);
    if (!version || !(opening.all || version.minor === 0)) throw notThere();
    return {
      name,
      title: version.title,
      body: bodyFor(access, me, version.body),
      beside: await besideThen(tx, opening, version.seq),
      addresses: await addressesOf(tx, opening, version.body),
    };
  });

/** Makes a new working version of an old one, on top of the newest that was seen. */
export async function takeUpVersion(writer: string, id: string, name: string, { base, note }: TakeUpBody): Promise<{ version: string }> {
  const old = await inSnapshot(async (tx) => {
    const { all } = await openVersions(tx, writer, id);
    const version = await versionNamed(tx, id, name);
    if (!version || !(all || version.minor === 0)) throw notThere();
    return version;
  });
  // A version never changes: what was read of it is what is saved, under the rights of that moment.
  return saveVersion(writer, id, { title: old.title, body: old.body, base, note: note || `Taken up again from version ${name}.` });
}
