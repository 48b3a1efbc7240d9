/** Names as people type them. */

/** For comparing: without accents, in small letters. */
export const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
