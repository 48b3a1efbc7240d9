/** A publication as the sheet orders it, for tests: now, where it stands, nobody kept, nothing else changed; and what is to be otherwise. */
import type { LookAtPublicationBody } from "../src/contracts/publication.ts";

export const publication = (version: string, otherwise: Partial<LookAtPublicationBody> = {}): LookAtPublicationBody => ({
  what: "live",
  version,
  keep: [],
  wishes: [],
  ...otherwise,
});
