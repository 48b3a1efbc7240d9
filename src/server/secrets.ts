/** Hashes of what must not be told: of secrets that are random themselves, and of texts that somebody could guess. */
import { createHash, createHmac } from "node:crypto";

/** Of a text that nobody can guess: a token as it is kept, a link of the ledger's chain. */
export const sha256 = (text: string): string => createHash("sha256").update(text).digest("hex");

/** A hash under this site's own key, to be taken in bit by bit. */
export const siteHmac = () => createHmac("sha256", process.env.TESORO_SECRET ?? "");

/** Of a text that could be guessed: the same for the same text, of no use to whoever has not the site's key. */
export const keyed = (text: string): string => siteHmac().update(text).digest("base64url");
