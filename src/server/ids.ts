import { randomInt } from "node:crypto";
import { siteHmac } from "./secrets.ts";

const LETTERS = "abcdefghijkmnpqrstuvwxyz23456789";

/** A new id: ten letters and digits without look-alikes and without a hyphen, so that it can end an address. */
export const newId = (): string => Array.from({ length: 10 }, () => LETTERS[randomInt(LETTERS.length)]).join("");

/**
 * The id of something that is looked at before it is made: the same for the same words, known to nobody beforehand. An id of
 * one's own choice would tell, by being refused, what else has it.
 */
export const idOf = (...words: (string | number)[]): string =>
  [...siteHmac().update(JSON.stringify(words)).digest().subarray(0, 10)].map((byte) => LETTERS[byte % LETTERS.length]).join("");
