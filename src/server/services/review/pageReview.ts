/** The review of one page beside its text as the asker reads it. */
import type { PageReview } from "../../../contracts/review.ts";
import { readAccess } from "../../access/current.ts";
import { inSnapshot } from "../../db/client.ts";
import { readReaderPage } from "../reading/reading.ts";
import { reviewIn } from "./standing.ts";

export async function readPageReview(asker: string | null, id: string): Promise<PageReview> {
  const { reads, ...standing } = await inSnapshot(async (tx) => reviewIn(tx, await readAccess(tx), asker, id));
  const page = reads ? await readReaderPage({ me: asker, viewpoint: null }, "", id) : null;
  return { ...standing, address: page?.address ?? "", html: page?.html ?? null };
}
