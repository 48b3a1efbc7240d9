/**
 * What looks sensitive in a text, one detector a kind. Each goes through the text once, whatever stands in it: none of their
 * patterns can be made to go back and forth by a text that means it ill.
 */
import { accountLength, isAccount, isCard } from "./numbers.ts";

/** Kinds of what looks sensitive. Where two claim the same passage, the one that stands first here has it. */
export const FINDING_KINDS = ["account", "card", "key", "email", "phone", "word"] as const;
export type FindingKind = (typeof FINDING_KINDS)[number];

/** Where in a text: from its sign `start` up to, not with, `end`; in UTF-16 units, as strings are counted. */
export interface Span {
  start: number;
  end: number;
}

type Detector = (text: string) => Span[];

const all = (text: string, pattern: RegExp, fits: (it: RegExpExecArray) => Span | null): Span[] => {
  const found: Span[] = [];
  for (const match of text.matchAll(pattern)) {
    const span = fits(match);
    if (span) found.push(span);
  }
  return found;
};

const whole = (match: RegExpExecArray): Span => ({ start: match.index, end: match.index + match[0].length });

/** Names of files that have an at sign in them are no addresses. */
const FILES = /\.(?:png|jpe?g|gif|svg|webp|pdf|css|js|ts)$/i;
const LOCAL = /[\p{L}\p{N}.!#$%&'*+/=?^_`{|}~-]/u;
const DOMAIN = /[\p{L}\p{N}.-]/u;
const ADDRESS = { local: 64, domain: 253 };

/** E-mail addresses: from each at sign as far as either side goes. */
const emails: Detector = (text) => {
  const found: Span[] = [];
  for (let at = text.indexOf("@"); at >= 0; at = text.indexOf("@", at + 1)) {
    let [start, end] = [at, at + 1];
    while (start > 0 && at - start < ADDRESS.local && LOCAL.test(text[start - 1] as string)) start--;
    while (end < text.length && end - at <= ADDRESS.domain && DOMAIN.test(text[end] as string)) end++;
    while (start < at && !/[\p{L}\p{N}_]/u.test(text[start] as string)) start++;
    while (end > at + 1 && !/[\p{L}\p{N}]/u.test(text[end - 1] as string)) end--;
    const domain = text.slice(at + 1, end);
    if (start === at || FILES.test(domain) || !/^[\p{L}\p{N}](?:[\p{L}\p{N}-]*\.)+\p{L}{2,24}$/u.test(domain) || domain.includes(".."))
      continue;
    found.push({ start, end });
  }
  return found;
};

const digitsOf = (text: string): string => text.replace(/\D/g, "");

/** Days, as in 01.02.2026 or 2026-02-01, and what is counted in them. */
const DAY = /^0?\d{1,2}[./-]\d{1,2}[./-]\d{2,4}\b|^\d{4}[./-]\d{1,2}[./-]\d{1,2}\b/;

/** Telephone numbers: with a country's number, with the nought of a town's, or three, three and four digits. */
const phones: Detector = (text) =>
  all(
    text,
    /(?<![\p{L}\p{N}.,/+-])(?:\+|(?<!\d[ .-])(?:00(?=[1-9])|\(?0|(?=\(?\d{3}\)?[-. ]\d{3}[-. ]\d{4}(?!\d))))[\d()/. -]{6,24}/gu,
    (match) => {
      const number = match[0].replace(/[^\d]+$/, "");
      const end = match.index + number.length;
      const digits = digitsOf(number);
      const next = text[end] ?? "";
      if (/[\p{L}\p{N}]/u.test(next) || (/[.,:]/.test(next) && /\d/.test(text[end + 1] ?? ""))) return null;
      const abroad = /^(?:\+|00)/.test(number);
      if (digits.length < (abroad ? 8 : 7) || digits.length > 15 || DAY.test(number)) return null;
      // At home a number has a town's part and a part of its own; what stands in one piece is a number of another sort.
      return abroad || /\d[()/. -]+\d/.test(number) ? { start: match.index, end } : null;
    },
  );

/** Signs of a secret, and how evenly they are spread, in bits for each: words repeat their letters, keys do not. */
function evenness(text: string): number {
  const counts = new Map<string, number>();
  for (const sign of text) counts.set(sign, (counts.get(sign) ?? 0) + 1);
  return [...counts.values()].reduce((sum, count) => sum - (count / text.length) * Math.log2(count / text.length), 0);
}

const UUID = /^[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}$/i;

function looksRandom(text: string): boolean {
  if (text.length < 24 || UUID.test(text)) return false;
  const hex = /^[0-9a-f]{32,}$/i.test(text) && /\d/.test(text) && /[a-f]/i.test(text);
  const mixed = /[a-z]/.test(text) && /[A-Z]/.test(text) && (text.match(/\d/g)?.length ?? 0) >= 3;
  return (hex && evenness(text) > 3) || (mixed && evenness(text) > 3.9);
}

/** A word for a secret, then what it is. Said in the languages of a harbour. */
const SAID =
  /(?<!\p{L})(?:pass(?:word|phrase|code|wort)|kennwort|mot de passe|contraseña|senha|wachtwoord|lösenord|hasło|api[ _-]?key|access[ _-]?token|secret[ _-]?key|client[ _-]?secret)\s{0,3}(?:is\s|[:=]\s{0,3})["'“]?(\S{6,200})/giu;
const PRIVATE = /-----BEGIN [A-Z ]{0,40}PRIVATE KEY-----/g;
const SIGNED = /(?<![\w-])eyJ[\w-]{10,2000}\.eyJ[\w-]{10,4000}\.[\w-]{10,2000}/g;
/** A name and its password in an address; a secret link of this very site. */
const IN_ADDRESS = /:\/\/[^\s/:@]{1,100}:[^\s/@]{3,200}@/g;
const OWN_PASS = /\/pass\/[\w-]{16,200}/g;

/** Keys, tokens and passwords. */
const keys: Detector = (text) => [
  ...all(text, PRIVATE, whole),
  ...all(text, SIGNED, whole),
  ...all(text, IN_ADDRESS, whole),
  ...all(text, OWN_PASS, whole),
  ...all(text, SAID, (match) => {
    const said = (match[1] ?? "").replace(/[.,;:!?"'”)]+$/, "");
    if (said.length < 6 || !/[\d!@#$%^&*]/.test(said) || !/\p{L}/u.test(said)) return null;
    const start = match.index + match[0].lastIndexOf(match[1] as string);
    return { start, end: start + said.length };
  }),
  ...all(text, /[\w+/=-]{24,4000}/g, (match) => (looksRandom(match[0].replace(/^\/+|\/+$/g, "")) ? whole(match) : null)),
];

/** From a sign on, so many letters and digits in groups that single spaces, or hyphens, part; null: there are not as many. */
function grouped(text: string, start: number, count: number): number | null {
  let [end, seen] = [start, 0];
  while (seen < count) {
    const sign = text[end] ?? "";
    if (/[A-Z0-9]/i.test(sign)) seen++;
    else if (!/[ \u00a0\u202f-]/.test(sign) || /[ \u00a0\u202f-]/.test(text[end + 1] ?? "")) return null;
    end++;
  }
  return /[\p{L}\p{N}]/u.test(text[end] ?? "") ? null : end;
}

/** Bank account numbers whose check digits hold. */
const accounts: Detector = (text) =>
  all(text, /(?<![\p{L}\p{N}])[A-Z]{2}\d{2}/gu, (match) => {
    const length = accountLength(match[0]);
    const end = length === undefined ? null : grouped(text, match.index, length);
    if (end === null) return null;
    const number = text.slice(match.index, end).replace(/[^A-Z0-9]/gi, "");
    return isAccount(number.toUpperCase()) ? { start: match.index, end } : null;
  });

/** Card numbers whose check digit holds. */
const cards: Detector = (text) =>
  all(text, /(?<![\p{L}\p{N}+.,-])[2-6](?:[ \u00a0\u202f-]?\d){12,18}(?![\p{L}\p{N}]|[.,]\d)/gu, (match) =>
    isCard(digitsOf(match[0])) ? whole(match) : null,
  );

export const DETECTORS: Readonly<Record<Exclude<FindingKind, "word">, Detector>> = {
  account: accounts,
  card: cards,
  key: keys,
  email: emails,
  phone: phones,
};

/** A detector for words the house calls sensitive: whole words, whatever their case, whatever space is between two of them. */
export function wordDetector(words: readonly string[]): Detector | null {
  const parts = [...new Set(words.map((word) => word.trim()).filter(Boolean))]
    .sort((a, b) => b.length - a.length)
    .map((word) =>
      word
        .split(/\s+/u)
        .map((it) => it.replace(/[\\^$.*+?()[\]{}|/]/g, "\\$&"))
        .join("\\s{1,3}"),
    );
  if (parts.length === 0) return null;
  const pattern = new RegExp(`(?<![\\p{L}\\p{N}])(?:${parts.join("|")})(?![\\p{L}\\p{N}])`, "giu");
  return (text) => all(text, pattern, whole);
}
