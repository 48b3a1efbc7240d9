/** Access as code: the exported document comes back edited; its ripple is shown, then it is applied as one change. */
import type { DocumentPlan } from "../../contracts/answers.ts";
import { differenceOf } from "../../core/access/diff.ts";
import type { AccessDocument, DocumentError } from "../../core/access/document.ts";
import { type Edit, placeOfEdit } from "../../core/access/edits.ts";
import { parseAccessDocument } from "../../core/access/parse.ts";
import { editSentence } from "../../core/access/sentences.ts";
import { type Access, checkSiteKeeper, readAccess, subjectFor } from "../access/current.ts";
import { inChange, inSnapshot } from "../db/client.ts";
import { badRequest } from "../http/trouble.ts";
import { checkNoneScheduled, makeChange, previewChange } from "./change.ts";
import { namesFor } from "./naming.ts";

/** So many differences in one change: beyond that nobody can look at what they apply. */
export const MOST_DIFFERENCES = 2_000;

const FOR_KEEPERS = "The access document is for site keepers to bring in.";

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

/** What bringing in a document would change and do; changes nothing. */
export async function planDocument(asker: string, value: unknown): Promise<DocumentPlan> {
  const { edits, errors, told } = await inSnapshot(async (tx) => {
    const access = await readAccess(tx);
    checkSiteKeeper(access, asker, FOR_KEEPERS);
    const found = differencesTo(access, value);
    const names = namesFor(access, subjectFor(access, asker));
    const sentences = found.edits.map((edit) => {
      const place = placeOfEdit(edit);
      return `${place === null ? "" : `${names.place(place)}: `}${editSentence(edit, names)}`;
    });
    return { ...found, told: sentences };
  });
  if (errors.length > 0 || edits.length === 0) return { errors, sentences: [], preview: null };
  return { errors, sentences: told, preview: await previewChange(asker, edits, []) };
}

/** Brings in a document: everything it changes in one entry of the ledger, if the ripple is still the one that was seen. */
export async function applyDocument(
  maker: string,
  order: { document: unknown; note: string; reason?: string; seen: string },
): Promise<{ seq: number }> {
  return inChange(async (tx) => {
    const access = await readAccess(tx);
    checkSiteKeeper(access, maker, FOR_KEEPERS);
    const { edits, errors } = differencesTo(access, order.document);
    if (errors.length > 0) throw badRequest(`This document cannot be brought in: ${errors[0]?.path} ${errors[0]?.message}.`, errors);
    if (edits.length === 0) throw badRequest("The site is as this document says already.");
    checkNoneScheduled(edits);
    const { document: _, ...rest } = order;
    return { seq: (await makeChange(tx, { ...rest, maker, edits, act: "import" })).seq };
  });
}
