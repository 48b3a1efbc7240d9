/** Names for a made-up site of any size: combined by number, so that each is the same every time. */
const FIRST = [
  "Alda",
  "Bruno",
  "Celia",
  "Davi",
  "Elin",
  "Faro",
  "Greta",
  "Hugo",
  "Iria",
  "Jonas",
  "Kaia",
  "Luis",
  "Mira",
  "Nuno",
  "Olga",
  "Pia",
];
const LAST = [
  "Abreu",
  "Brandt",
  "Castro",
  "Duarte",
  "Ekman",
  "Falk",
  "Guerra",
  "Holm",
  "Ivens",
  "Jardim",
  "Koch",
  "Lobo",
  "Moura",
  "Nilsen",
  "Orta",
  "Pinto",
  "Quist",
  "Rocha",
  "Sand",
  "Teles",
];
const TEAM = ["Pilots", "Dredging", "Moorings", "Tolls", "Lamps", "Charts", "Tugs", "Stores", "Cranes", "Wardens"];
const SUBJECT = ["Tide", "Quay", "Signal", "Cargo", "Buoy", "Ballast", "Berth", "Anchor", "Lock", "Winch", "Rope", "Fog"];
const KIND = ["tables", "routines", "notes", "rules", "lists", "reports", "plans", "checks", "forms", "lessons"];

const at = (list: readonly string[], i: number): string => list[i % list.length] as string;

export const TAGS = ["safety", "night", "training", "winter", "fees"];
export const personName = (i: number): string =>
  `${at(FIRST, i)} ${at(LAST, Math.floor(i / FIRST.length))} ${Math.floor(i / (FIRST.length * LAST.length)) + 1}`;
export const groupName = (i: number): string => `${at(TEAM, i)} ${Math.floor(i / TEAM.length) + 1}`;
export const spaceTitle = (i: number): string => `${at(SUBJECT, i)} ${at(KIND, Math.floor(i / SUBJECT.length))} ${i + 1}`;
export const pageTitle = (i: number): string => `${at(SUBJECT, i * 7 + 3)} ${at(KIND, i * 3 + 1)} ${i + 1}`;

const WHO = ["The watch", "A pilot", "The crane crew", "Each visitor", "The night shift", "Whoever is on call", "The office", "A deckhand"];
const DOES = ["checks", "reports", "moves", "signs for", "counts", "cleans", "orders", "hands over", "measures", "closes"];
const WHAT = [
  "the mooring lines",
  "two spare buoys",
  "the tide gauge",
  "every pallet",
  "the fog horn",
  "the fuel cards",
  "a wet suit",
  "the old charts",
];
const WHEN = ["before dawn", "at slack water", "every second week", "after a storm", "with the harbour master", "once the ferry has left"];

/** A made-up sentence; `pick` gives a number below its argument. */
export const sentence = (pick: (below: number) => number): string =>
  `${at(WHO, pick(WHO.length))} ${at(DOES, pick(DOES.length))} ${at(WHAT, pick(WHAT.length))} ${at(WHEN, pick(WHEN.length))}.`;
