/** The access command, as a process: what it prints, where, and with which status. */
import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { expect, it } from "vitest";
import { parseAccessDocument } from "../src/core/access/exchange/index.ts";

const bootstrap = fileURLToPath(new URL("./bootstrap.mjs", import.meta.url));
const folder = mkdtempSync(join(tmpdir(), "tesoro-access-"));

function run(args: string[], input = "") {
  const { status, stdout, stderr } = spawnSync(process.execPath, [bootstrap, "access", ...args], { input, encoding: "utf8" });
  return {
    status,
    lines: stdout
      .split("\n")
      .filter(Boolean)
      .map((line) => JSON.parse(line)),
    stderr,
  };
}

function file(name: string, content: unknown): string {
  const path = join(folder, name);
  writeFileSync(path, typeof content === "string" ? content : JSON.stringify(content));
  return path;
}

/** The example of access-model.md, section 11. */
const example = {
  tesoroAccess: 1,
  ceilings: { outsiders: ["read"], guests: ["read", "discuss", "revise", "add"], passes: true },
  people: [{ id: "p-ana", name: "Ana", kind: "member", status: "active" }],
  groups: [
    { id: "g-pilots", name: "Pilots", members: [{ person: "p-ana" }, { group: "g-night" }] },
    { id: "g-night", name: "Night" },
  ],
  places: [
    { id: "site", kind: "site", grants: [{ to: { person: "p-ana" }, abilities: ["revise", "add", "publish", "discuss", "govern"] }] },
    {
      id: "s-tides",
      kind: "space",
      parent: "site",
      title: "Tides",
      grants: [{ to: { audience: "members" }, abilities: ["read", "discuss"], until: "2027-01-01T00:00:00Z" }],
      fences: [{ kind: "write", admits: [{ group: "g-pilots" }] }],
      ceilings: { outsiders: [], passes: false },
    },
    { id: "pg-1", kind: "page", parent: "s-tides", title: "Tables", state: "draft", owner: "p-ana", tags: ["tides"] },
    { id: "bl-1", kind: "bulletin", parent: "s-tides", title: "Spring tide", state: "live", owner: "p-ana" },
  ],
  passes: [{ id: "k-1", place: "pg-1", below: false, until: null, revoked: false }],
  pledges: [],
};

it("decides line by line, skips blank lines, answers bad questions on their line and ends with 1", () => {
  const document = file("example.json", example);
  const questions = [
    '{"subject":{"person":"p-ana"},"place":"pg-1"}',
    "",
    '{"subject":{"pass":"k-1"},"place":"pg-1"}',
    "no json",
    '{"subject":{"public":true},"place":"nowhere"}',
  ];
  const { status, lines } = run(["decide", "--document", document, "--at", "2026-11-23T00:00:00Z"], questions.join("\n"));
  const all = ["read", "discuss", "revise", "add", "publish", "arrange", "retire", "admit", "govern"];
  expect(lines.slice(0, 2)).toEqual([
    { abilities: all, oversight: true },
    { abilities: [], oversight: false },
  ]);
  expect(lines.slice(2).map((line) => Object.keys(line))).toEqual([["error"], ["error"]]);
  expect(status).toBe(1);
});

it("explains and ripples", () => {
  const before = file("before.json", example);
  const after = file("after.json", {
    ...example,
    places: example.places.map((place) =>
      place.id === "bl-1" ? { ...place, grants: [{ to: { audience: "public" }, abilities: ["read"] }] } : place,
    ),
  });
  const question = '{"subject":{"public":true},"place":"bl-1","ability":"read"}';
  const [why] = run(["explain", "--document", after], question).lines;
  expect([why.answer, why.steps.map((step: { layer: string }) => step.layer)]).toEqual([false, ["ceilings"]]);
  const { status, stdout } = spawnSync(
    process.execPath,
    [bootstrap, "access", "ripple", "--before", before, "--after", after, "--at", "2026-11-23T00:00:00Z"],
    { encoding: "utf8" },
  );
  expect([status, JSON.parse(stdout).entries]).toEqual([0, []]);
});

it("tells pledges with a witness, idle rules with a sentence, proposals with their edits, and writes the matrix", () => {
  const formula = "=1+1";
  const document = file("more.json", {
    ...example,
    people: [...example.people, { id: formula, kind: "guest" }],
    places: [
      ...example.places.slice(0, 3),
      {
        ...example.places[3],
        grants: [
          { to: { group: "g-night" }, abilities: ["read"] },
          { to: { person: formula }, abilities: ["read"] },
        ],
      },
    ],
    pledges: [
      { id: "closed", who: { class: "guests" }, rule: "never", ability: "read", where: { space: "s-tides" } },
      { id: "kept", who: { class: "outsiders" }, rule: "never", ability: "read", where: { space: "s-tides" } },
    ],
  });
  const at = ["--at", "2026-11-23T00:00:00Z"];
  const whole = (command: string) =>
    JSON.parse(spawnSync(process.execPath, [bootstrap, "access", command, "--document", document, ...at], { encoding: "utf8" }).stdout);
  expect(whole("pledges")).toMatchObject([
    {
      pledge: "closed",
      holds: false,
      violations: 1,
      witness: { subject: `person:${formula}`, place: "bl-1", explanation: { answer: true } },
    },
    { pledge: "kept", holds: true },
  ]);
  expect(whole("idle")).toContainEqual(
    expect.objectContaining({ kind: "nobodyInGroup", place: "bl-1", text: expect.stringContaining("no active people") }),
  );
  const wish =
    '{"wishes":[{"place":"bl-1","principal":{"person":"=1+1"},"level":"Nothing"},{"place":"s-tides","principal":{"audience":"public"},"level":1}]}';
  const { lines, status } = run(["propose", "--document", document, ...at], `${wish}\n{"wishes":[]}`);
  expect(lines).toMatchObject([
    { alreadySo: false, candidates: [], obstacle: { explanation: { steps: [{ layer: "ceilings" }] } } },
    { error: expect.anything() },
  ]);
  expect(status).toBe(1);
  const out = join(folder, "matrix.csv");
  expect(run(["matrix", "--document", document, "--out", out, ...at]).status).toBe(0);
  const rows = readFileSync(out, "utf8").trim().split("\r\n");
  expect(rows[0]).toBe("who,kind,place,path,state,level,abilities,oversight");
  expect(rows).toContain(`person:${formula},guest,bl-1,site / s-tides / bl-1,live,Reader,read,`);
  expect(rows.slice(1).every((row) => /^(public|pass|person):?/.test(row))).toBe(true);
  expect(rows).toHaveLength(6);
});

it("says on one clear line what is wrong with files and flags, and ends with 2", () => {
  const broken = file("broken.json", { ...example, surprise: 1, places: [{ id: "a", kind: "page", state: "gone" }] });
  const cases: [string[], string][] = [
    [["decide"], "--document FILE is missing"],
    [["decide", "--document", join(folder, "none.json")], "none.json"],
    [["decide", "--document", file("text.json", "{")], "text.json"],
    [["decide", "--document", broken], "$.surprise"],
    [["decide", "--document", broken], "$.places[0].state"],
    [["decide", "--document", broken, "--at", "tomorrow"], "--at tomorrow"],
    [["decide", "--nonsense"], "--nonsense"],
    [["juggle"], "juggle"],
    [["matrix", "--document", file("sound.json", example)], "--out FILE.csv is missing"],
    [["matrix", "--document", file("sound.json", example), "--out", join(folder, "none", "matrix.csv")], "no such file"],
    [["ripple", "--before", file("sound.json", example)], "--after FILE is missing"],
    [["decide", "again"], "one too many"],
  ];
  for (const [args, words] of cases) {
    const { status, stderr } = run(args);
    expect([args, status, stderr]).toEqual([args, 2, expect.stringContaining(words)]);
    expect(stderr).not.toContain("    at ");
  }
});

it("refuses every unsound document with the path of each error", () => {
  const space = { id: "s", kind: "space", parent: "site" };
  const site = { id: "site", kind: "site" };
  const people = [
    { id: "m", kind: "member" },
    { id: "g", kind: "guest" },
  ];
  const pageWith = (rest: object) => ({ people, places: [site, space, { id: "p", kind: "page", parent: "s", ...rest }] });
  const unsound: [object, string][] = [
    [{ places: [space, site, { ...space, id: "site" }] }, "$.places[2].id"],
    [{ places: [site, { id: "s", kind: "space" }] }, "$.places[1]"],
    [{ places: [site, { id: "a", kind: "page", parent: "b" }, { id: "b", kind: "page", parent: "a" }] }, "$.places[1].parent"],
    [{ places: [site, space, { id: "b", kind: "bulletin", parent: "s" }, { id: "p", kind: "page", parent: "b" }] }, "$.places[3].parent"],
    [{ places: [space] }, "$.places"],
    [pageWith({ was: "draft" }), "$.places[2].was"],
    [pageWith({ grants: [{ to: { person: "m" }, abilities: [] }] }), "$.places[2].grants[0].abilities"],
    [pageWith({ grants: [{ to: { person: "nobody" }, abilities: ["read"] }] }), "$.places[2].grants[0].to.person"],
    [pageWith({ grants: [{ to: { audience: "members" }, abilities: ["govern"] }] }), "$.places[2].grants[0].abilities"],
    [pageWith({ grants: [{ to: { person: "g" }, abilities: ["admit"] }] }), "$.places[2].grants[0].abilities"],
    [pageWith({ grants: [{ to: { person: "m" }, abilities: ["read"], until: "2027-02-30T00:00:00Z" }] }), "$.places[2].grants[0].until"],
    [
      {
        places: [site],
        groups: [
          { id: "a", members: [{ group: "b" }] },
          { id: "b", members: [{ group: "a" }] },
        ],
      },
      "$.groups[0].members",
    ],
    [{ places: [site], ceilings: { guests: ["govern"] } }, "$.ceilings.guests"],
    [{ places: [site], ceilings: { outsiders: ["revise"] } }, "$.ceilings.outsiders"],
    [{ places: [site, space], passes: [{ id: "k", place: "s" }] }, "$.passes[0].place"],
  ];
  for (const [document, path] of unsound) {
    const parsed = parseAccessDocument({ tesoroAccess: 1, ...document });
    expect(parsed.ok ? [] : parsed.errors.map((error) => error.path)).toContain(path);
  }
});
