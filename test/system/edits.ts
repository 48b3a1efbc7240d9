/** One edit of each kind that travels, with every field it may have. */
const rule = { to: { group: "pilots" }, abilities: ["read"], until: "2028-01-01T00:00:00Z", draft: false };
const fence = { kind: "read", admits: [{ group: "pilots" }] };
const settings = { name: "Quays", address: "quays", purpose: "x", history: true, review: 90, flags: true };
const contents = { entries: [{ heading: "x" }, { page: "cranes" }, { link: "https://x.invalid/", words: "x" }], rest: true };
const ceilings = { outsiders: ["read"], guests: ["read"], passes: true };
const house = { binDays: 90, passwordLength: 12, guestsBySpaceKeepers: true, useDays: 365, sensitiveWords: ["x"] };
const pledge = {
  id: "p1",
  who: { class: "outsiders", group: "pilots", person: "mei" },
  rule: "never",
  ability: "read",
  where: { space: "quays", subtree: "cranes", tag: "x", state: "live" },
  why: "x",
};
const person = { id: "mei", name: "Mei Lin", kind: "member", status: "active", until: "2028-01-01T00:00:00Z" };
const at = (kind: string, place: string, rest: object) => ({ kind, place, ...rest });

export const EDITS: readonly object[] = [
  at("grant", "cranes", { remove: rule, put: rule }),
  at("fence", "cranes", { remove: fence, put: fence }),
  at("stance", "cranes", { from: "follow", to: "fresh" }),
  at("state", "cranes", { from: { state: "live" }, to: { state: "archived", was: "live", binnedFrom: "archived" } }),
  at("owner", "cranes", { from: "petr", to: "maren" }),
  at("tags", "cranes", { from: ["a"], to: ["b"] }),
  at("readiness", "cranes", { from: "x", to: "y" }),
  at("reviewPeriod", "cranes", { from: null, to: 30 }),
  at("readinessWords", "quays", { from: ["x"], to: ["y"] }),
  at("arranged", "quays", { from: "hand", to: "name" }),
  at("settings", "quays", { remove: settings, put: settings }),
  at("contents", "quays", { remove: contents, put: contents }),
  at("landing", "quays", { from: "quayhome", to: "cranes" }),
  at("ceilings", "quays", { from: ceilings, to: ceilings }),
  { kind: "house", from: house, to: house },
  { kind: "person", person: "mei", remove: person, put: person },
  { kind: "group", group: "pilots", remove: { id: "pilots", name: "Pilots" }, put: { id: "pilots", name: "Pilots" } },
  { kind: "member", group: "pilots", remove: { person: "mei" }, put: { person: "maren", group: "quay" } },
  { kind: "managers", group: "pilots", from: [{ person: "mei", guests: false }], to: [{ person: "maren", guests: true }] },
  { kind: "pledge", pledge: "p1", remove: pledge, put: pledge },
];
