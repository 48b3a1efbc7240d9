/** What pages read by a pass have in common: who reads, what is counted, and headers that keep the address a secret. */
import type { AstroGlobal } from "astro";
import type { PassPage } from "../../contracts/reading.ts";
import { idInAddress } from "../../core/content/index.ts";
import { countLink, countPass } from "../accounts/attempts.ts";
import { noteTrouble } from "../log.ts";
import { countUse } from "../services/passes/passes.ts";
import { readByPass } from "../services/passes/passReading.ts";
import { countView } from "../services/reading/reading.ts";
import { Trouble } from "../trouble.ts";

/** The page of an address; null, with its status, where there is none. */
export async function pageOfPass(astro: AstroGlobal): Promise<PassPage | null> {
  const { headers } = astro.response;
  headers.set("referrer-policy", "no-referrer");
  headers.set("cache-control", "private, no-store");
  headers.set("x-robots-tag", "noindex, nofollow, noarchive");
  const { token = "", page } = astro.params;
  const { me, client } = astro.locals;
  try {
    await countPass(client);
    const { pass, ...found } = await readByPass(token, page === undefined ? null : idInAddress(page), me?.id ?? null);
    void Promise.all([countUse(pass), countView(found.id, me?.kind ?? "outsider")]).catch((error) =>
      noteTrouble("A use of a pass was not counted", error),
    );
    return found;
  } catch (error) {
    if (!(error instanceof Trouble)) throw error;
    if (error.status !== 404) throw error;
    // Guessing is counted more strictly than reading.
    await countLink(client);
    astro.response.status = 404;
    return null;
  }
}
