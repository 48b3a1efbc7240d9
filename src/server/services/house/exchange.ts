/** Access as code: the exported document comes back edited; its ripple is shown, then it is applied as one change. */

import type { DocumentPlan } from "../../../contracts/house.ts";
import type { ActingBody } from "../../../contracts/rules.ts";
import { differenceOf, parseAccessDocument } from "../../../core/access/exchange/index.ts";
import { editSentence, type Names } from "../../../core/access/explain/index.ts";
import { type AccessDocument, type DocumentError, type Edit, placeOfEdit, type Seq } from "../../../core/access/model/index.ts";
import { whereItFits } from "../../access/aside.ts";
import { type Access, accessNow, need, readAccess, subjectFor } from "../../access/current.ts";
import { namesFor } from "../../access/known.ts";
import { inChange, inSnapshot } from "../../db/client.ts";
import { badRequest } from "../../trouble.ts";
import { makeChange } from "../change/apply.ts";
import { previewHere } from "../change/preview.ts";

/** So many differences in one change: beyond that nobody can look at what they apply. */
export const MOST_DIFFERENCES = 2_000;

/** The edits that make the site what the document says, or every error with its path. */
function differencesTo(access: Access, value: unknown): { edits: Edit[]; errors: DocumentError[] } {
  const parsed = parseAccessDocument(value);
  if (!parsed.ok) return { edits: [], errors: parsed.errors };
  const found = differenceOf(normal(access.index.document), parsed.document);
  if (found.edits.length > MOST_DIFFERENCES)
    throw badRequest(
      `The document differs from the site in ${found.edits.length} things; at most ${MOST_DIFFERENCES} are brought in at once.`,
    );
  return found;
}

/** A document as it is read back: what the database writes and what comes in are then compared alike. */
function normal(document: AccessDocument): AccessDocument {
  const parsed = parseAccessDocument(JSON.parse(JSON.stringify(document)));
  if (!parsed.ok) throw new Error(`the site's own document is not sound: ${JSON.stringify(parsed.errors.slice(0, 3))}`);
  return parsed.document;
}

/** Names that know people and groups whom edits bring in, too. */
function withNewcomers(names: Names, edits: readonly Edit[]): Names {
  const groups = new Map(edits.flatMap((edit) => (edit.kind === "group" && edit.put ? [[edit.group, edit.put.name ?? edit.group]] : [])));
  const people = new Map(
    edits.flatMap((edit) => (edit.kind === "person" && edit.put ? [[edit.person, edit.put.name ?? edit.person]] : [])),
  );
  return { ...names, group: (id) => groups.get(id) ?? names.group(id), person: (id) => people.get(id) ?? names.person(id) };
}

/** A document speaks of the whole site: on a large one all of it is worked out aside. */
const whole = (asker: string) => ({
  whole: true,
  first: async () => {
    const access = await accessNow();
    need(access, subjectFor(access, asker), "bringDocument");
  },
});

/** What bringing in a document would change and do; changes nothing. */
export const planDocument = (asker: string, value: unknown): Promise<DocumentPlan> =>
  whereItFits("planDocumentHere", [asker, value], whole(asker), () => planDocumentHere(asker, value));

export async function planDocumentHere(asker: string, value: unknown): Promise<DocumentPlan> {
  const { edits, errors, told } = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, asker), "bringDocument");
    const found = differencesTo(access, value);
    const names = withNewcomers(namesFor(access, subjectFor(access, asker)), found.edits);
    const sentences = found.edits.map((edit) => {
      const place = placeOfEdit(edit);
      return `${place === null ? "" : `${names.place(place)}: `}${editSentence(edit, names)}`;
    });
    return { ...found, told: sentences };
  });
  if (errors.length > 0 || edits.length === 0) return { errors, sentences: [], preview: null };
  return { errors, sentences: told, preview: await previewHere(asker, edits) };
}

/** Brings in a document: everything it changes in one entry of the ledger, if the ripple is still the one that was seen. */
export const applyDocument = (maker: string, order: DocumentOrder): Promise<{ seq: Seq }> =>
  whereItFits("applyDocumentHere", [maker, order], whole(maker), () => applyDocumentHere(maker, order));

type DocumentOrder = ActingBody & { document: unknown };

export async function applyDocumentHere(maker: string, order: DocumentOrder): Promise<{ seq: Seq }> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    need(access, subjectFor(access, maker), "bringDocument");
    const { edits, errors } = differencesTo(access, order.document);
    if (errors.length > 0) throw badRequest(`This document cannot be brought in: ${errors[0]?.path} ${errors[0]?.message}.`, errors);
    if (edits.length === 0) throw badRequest("The site is as this document says already.");
    const { document: _, ...rest } = order;
    return { seq: (await makeChange(tx, { ...rest, maker, edits, act: "import" })).seq };
  });
}
