/** What kinds of findings are called. */
import type { FindingKind } from "../core/findings/index.ts";

export const FINDING_WORDS: Readonly<Record<FindingKind, { title: string; one: string; many: string }>> = {
  account: { title: "Bank accounts", one: "bank account number", many: "bank account numbers" },
  card: { title: "Cards", one: "card number", many: "card numbers" },
  key: { title: "Keys", one: "key or password", many: "keys or passwords" },
  email: { title: "Mail", one: "e-mail address", many: "e-mail addresses" },
  phone: { title: "Telephone", one: "telephone number", many: "telephone numbers" },
  word: { title: "House words", one: "word of the house", many: "words of the house" },
};
