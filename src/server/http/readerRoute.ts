/** What the reader pages have in common: who looks, and one answer for hidden and missing. */

import type { AstroGlobal } from "astro";
import type { Edge, ReaderPage } from "../../contracts/reading.ts";
import { idInAddress } from "../../core/content/index.ts";
import { noteTrouble } from "../log.ts";
import { isOwnCrawl } from "../services/crawl/mark.ts";
import { countView, readReaderPage } from "../services/reading/reading.ts";
import { noteUse } from "../services/reading/uses.ts";
import { type Reader, readEdge } from "../services/reading/viewing.ts";
import { noteReader } from "../services/reads/noting.ts";
import { Trouble } from "../trouble.ts";

/** Runs a read; null, with the status of "not there", where it is hidden or missing. */
export async function orNotThere<T>(astro: AstroGlobal, read: () => Promise<T>): Promise<T | null> {
  try {
    return await read();
  } catch (error) {
    if (!(error instanceof Trouble) || error.status !== 404) throw error;
    astro.response.status = 404;
    return null;
  }
}

export const readerOf = (astro: AstroGlobal): Reader => ({ me: astro.locals.me?.id ?? null, viewpoint: astro.params.viewpoint ?? null });

/** The edge a walk keeps where it comes to nothing; none for those who may not walk here. */
export async function edgeOf(astro: AstroGlobal): Promise<Edge> {
  return (await orNotThere(astro, () => readEdge(readerOf(astro)))) ?? { eyes: null, prefix: "", partial: false };
}

/** The page an address names, counted as one view unless it is walked through other eyes. */
export async function pageOfRoute(astro: AstroGlobal): Promise<ReaderPage | null> {
  const reader = readerOf(astro);
  const { space = "", page } = astro.params;
  const asked = astro.url.searchParams.get("version");
  // What is no number of a version is none that is there.
  const version = asked === null ? null : /^[1-9]\d{0,8}$/.test(asked) ? Number(asked) : 0;
  const found = await orNotThere(astro, () => readReaderPage(reader, space, page === undefined ? null : idInAddress(page), version));
  astro.locals.listed = found?.indexed === true && astro.locals.me === null;
  if (found && !reader.viewpoint && found.html !== null && version === null && !isOwnCrawl(astro.request.headers)) {
    const { me } = astro.locals;
    void countView(found.id, me?.kind ?? "outsider").catch((error) => noteTrouble("A view was not counted", error));
    if (me) void noteReader(found.id, me.id).catch((error) => noteTrouble("A reader was not noted", error));
    if (me?.kind === "guest") void noteUse(found.id, me.id).catch((error) => noteTrouble("A use was not noted", error));
  }
  return found;
}
