import { randomInt } from "node:crypto";

const LETTERS = "abcdefghijkmnpqrstuvwxyz23456789";

/** A new id: ten letters and digits without look-alikes and without a hyphen, so that it can end an address. */
export const newId = (): string => Array.from({ length: 10 }, () => LETTERS[randomInt(LETTERS.length)]).join("");
