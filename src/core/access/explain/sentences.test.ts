/** Rules in words: every kind of edit and every step of an answer, and no id of what the reader may not know. */
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { holds } from "../../../../test/holds.ts";
import { draw, editAt } from "../../../../test/reference/changes.ts";
import { NOW, world } from "../../../../test/reference/worlds.ts";
import { compile } from "../index/index.ts";
import { ABILITIES, type Edit, type Grant, type PageFlag, type Pass, type Pledge } from "../model/index.ts";
import { idleRules } from "./idle.ts";
import { idleSentence } from "./idleSentences.ts";
import { documentNames, editSentence, explain, explanationText, type Names } from "./index.ts";

const names: Names = { place: (id) => `“${id}”`, person: (id) => id.toUpperCase(), group: (id) => `the ${id}` };
const reader: Grant = { to: { group: "crew" }, abilities: ["read"] };
const pledge: Pledge = { id: "vow", who: { class: "guests" }, rule: "never", ability: "read", where: {} };
const pass: Pass = { id: "k", place: "quay", below: true, revoked: false, until: "2027-01-01T00:00:00Z" };
const AT = "2027-01-01T00:00:00.000Z";
const flag: PageFlag = { kind: "doubtful", by: "ben", at: AT, due: AT, note: "It is 4.", quote: "It is 3." };
const answered: PageFlag = { ...flag, outcome: "setAside", endedBy: "ana", endedAt: AT, reason: "It is not." };

describe("an edit in words", () => {
  it.each<[Edit, string]>([
    [{ kind: "grant", place: "x", put: reader }, "grant added: the crew are Reader"],
    [{ kind: "grant", place: "x", remove: reader }, "grant taken away: the crew are Reader"],
    [
      {
        kind: "grant",
        place: "x",
        remove: reader,
        put: { to: { person: "ana" }, abilities: ["read", "revise"], until: "2027-01-01T00:00:00Z", draft: true },
      },
      "grant changed: ANA is custom mix (read, revise) until 2027-01-01T00:00:00Z, also before it is live (before: the crew are Reader)",
    ],
    [{ kind: "fence", place: "x", put: { kind: "read", admits: [] } }, "read fence added: only these may enter: nobody"],
    [
      {
        kind: "fence",
        place: "x",
        remove: { kind: "write", admits: [{ audience: "members" }, { person: "ana" }, { audience: "accounts" }] },
      },
      "write fence taken away: only these may do more than read and comment: all members, ANA and everybody signed in",
    ],
    [{ kind: "stance", place: "x", from: "follow", to: "fresh" }, "starts fresh: what is granted above stops here"],
    [{ kind: "stance", place: "x", from: "fresh", to: "follow" }, "follows what is granted above again"],
    [{ kind: "state", place: "x", from: { state: "draft" }, to: { state: "live" } }, "a draft → live"],
    [{ kind: "start", place: "x", parent: "y", as: "bulletin", owner: "ana" }, "bulletin started as a draft"],
    [{ kind: "owner", place: "x", from: null, to: "ana" }, "owner: ANA (before: nobody)"],
    [{ kind: "owner", place: "x", from: "ana", to: null }, "owner: nobody (before: ANA)"],
    [{ kind: "tags", place: "x", from: [], to: ["a", "b"] }, "tags: a, b (before: none)"],
    [{ kind: "tags", place: "x", from: ["a"], to: [] }, "tags: none (before: a)"],
    [{ kind: "move", place: "x", from: "y", to: "z" }, "moved from “y” to “z”"],
    [{ kind: "order", place: "x", from: "a0", to: "a1" }, "another place among the pages beside it"],
    [
      { kind: "ceilings", place: "x", from: null, to: { outsiders: ["read"], guests: [], passes: false } },
      "ceilings: outsiders Reader, guests Nothing, passes not allowed (before: outsiders as the site, guests as the site, passes as the site)",
    ],
    [{ kind: "pass", pass: "k", put: pass }, "pass added: open, with what is below until 2027-01-01T00:00:00Z"],
    [
      { kind: "pass", pass: "k", remove: pass, put: { ...pass, revoked: true, below: false, until: null } },
      "pass changed: revoked (before: open, with what is below until 2027-01-01T00:00:00Z)",
    ],
    [{ kind: "person", person: "ana", put: { id: "ana", kind: "guest", status: "active" } }, "ANA added: guest, active"],
    [{ kind: "group", group: "crew", put: { id: "crew", name: "Crew" } }, "group added: Crew"],
    [{ kind: "member", group: "crew", remove: { group: "night" } }, "member of the crew taken away: the night"],
    [{ kind: "pledge", pledge: "vow", put: pledge }, "pledge added: guests never read anywhere"],
    [
      {
        kind: "pledge",
        pledge: "vow",
        put: {
          ...pledge,
          who: { group: "crew" },
          rule: "always",
          ability: "discuss",
          where: { space: "s", subtree: "t", tag: "u", state: "live" },
        },
      },
      "pledge added: the crew always comment on in “s”, below “t”, tagged u, while live",
    ],
    [{ kind: "pledge", pledge: "vow", remove: { ...pledge, who: { person: "ana" } } }, "pledge taken away: ANA never read anywhere"],
    [{ kind: "readiness", place: "x", from: null, to: "checked" }, "readiness: checked (before: none)"],
    [{ kind: "readinessWords", place: "x", from: ["checked"], to: [] }, "words of readiness: none (before: checked)"],
    [{ kind: "landing", place: "x", from: "y", to: null }, "landing page: none (before: “y”)"],
    [{ kind: "arranged", place: "x", from: "hand", to: "name" }, "its pages stand by name"],
    [{ kind: "reviewPeriod", place: "x", from: null, to: 90 }, "looked at again: every 90 days (before: as its space has it)"],
    [{ kind: "reviewed", place: "x", from: {}, to: { confirmed: AT, by: "ana" } }, `confirmed as it is, ${AT}`],
    [{ kind: "reviewed", place: "x", from: { confirmed: AT }, to: {} }, "no longer confirmed"],
    [{ kind: "reviewed", place: "x", from: {}, to: { asideUntil: AT } }, `its review is set aside until ${AT}`],
    [{ kind: "reviewed", place: "x", from: { asideUntil: AT }, to: {} }, "its review is no longer set aside"],
    [{ kind: "flag", place: "x", flag: "f", put: flag }, "flag “doubtful” raised: It is 4."],
    [{ kind: "flag", place: "x", flag: "f", remove: flag }, "flag “doubtful” withdrawn"],
    [{ kind: "flag", place: "x", flag: "f", remove: flag, put: { ...flag, to: "ana" } }, `flag “doubtful” handed to ANA, answer by ${AT}`],
    [
      { kind: "flag", place: "x", flag: "f", remove: { ...flag, to: "ana" }, put: flag },
      `flag “doubtful” handed to its owner, answer by ${AT}`,
    ],
    [{ kind: "flag", place: "x", flag: "f", remove: flag, put: answered }, "flag “doubtful” answered: set aside: It is not."],
    [{ kind: "flag", place: "x", flag: "f", remove: answered, put: flag }, "flag “doubtful” is open again"],
    [
      { kind: "settings", place: "x", put: { name: "Quays", address: "quays", purpose: "", review: 30, flags: true, indexed: false } },
      "settings added: Quays, at quays, search engines are asked not to list it, its pages are looked at again every 30 days, readers who are no members can flag its pages",
    ],
  ])("%j", (edit, sentence) => {
    expect(editSentence(edit, names)).toBe(sentence);
  });
});

it("no sentence holds an id that its reader is not told, and none is left unfinished", () => {
  const hidden: Names = { place: () => "a place", person: () => "somebody", group: () => "a group" };
  const check = (text: string) => {
    expect(text).not.toMatch(/\b[xpgk]\d+\b/);
    expect(text).not.toMatch(/undefined|null|NaN|\[object/);
  };
  holds(
    fc.property(world, draw, fc.nat(30), fc.nat(30), (document, it, who, where) => {
      check(editSentence(editAt(document, it), hidden));
      const index = compile(document);
      const subject = index.subjects[who % index.subjects.length];
      const place = index.places[where % index.places.length];
      if (!subject || !place) return;
      for (const ability of ABILITIES) {
        const { answer, steps } = explanationText(explain(index, subject, ability, place, NOW), "Somebody", hidden);
        for (const text of [answer, ...steps]) check(text);
      }
      for (const rule of idleRules(index, NOW)) check(idleSentence(rule, hidden));
    }),
    { runs: 300 },
  );
});

it("things without a name are called by their id, for whoever may know everything", () => {
  holds(
    fc.property(world, (document) => {
      const own = documentNames(compile(document));
      expect([own.person("p0"), own.person("nobody"), own.group("g0"), own.group("none"), own.place("x0"), own.place("none")]).toEqual([
        "p0",
        "nobody",
        "g0",
        "none",
        "“x0”",
        "“none”",
      ]);
    }),
    { runs: 5 },
  );
});
