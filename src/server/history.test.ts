/** The past: along a random history of changes, the site as of each of them is the site as it was. */
import fc from "fast-check";
import { expect, it } from "vitest";
import { onDatabase } from "../../test/database.ts";
import { drawn, holds } from "../../test/holds.ts";
import { referenceSet, subjectsOf } from "../../test/reference/reference.ts";
import { NOW, world } from "../../test/reference/worlds.ts";
import { checkDocument, parseAccessDocument } from "../core/access/exchange/index.ts";
import { compile } from "../core/access/index/index.ts";
import {
  type AccessDocument,
  applyEdits,
  type Edit,
  type Grant,
  invertEdits,
  type Place,
  type Seq,
  type Subject,
} from "../core/access/model/index.ts";
import { ripple } from "../core/access/ripple/index.ts";
import { checkBody } from "../core/content/index.ts";
import { bodyOfMarkdown } from "./content/markdown.ts";
import { inChange, inSnapshot } from "./db/client.ts";
import { emptyDocument, loadDocument, writeDifference } from "./db/document.ts";
import { appendEntry } from "./ledger/append.ts";
import { verifyLedger } from "./ledger/chain.ts";

onDatabase("schema");

/** Places in one order, and of equal grants only one: the database keeps a set. */
function normal(document: AccessDocument): AccessDocument {
  const distinct = <T>(items: T[]) => [...new Map(items.map((item) => [JSON.stringify(item), item])).values()];
  const parsed = parseAccessDocument(JSON.parse(JSON.stringify(document)));
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.errors));
  const places = parsed.document.places.map(
    (place): Place => ({ ...place, title: place.title ?? "", grants: distinct(place.grants), fences: distinct(place.fences) }),
  );
  const groups = parsed.document.groups.map((group) => ({ ...group, members: distinct(group.members) }));
  return { ...parsed.document, groups, places: places.sort((a, b) => (a.id < b.id ? -1 : 1)) };
}

/** Every subject's set at every place, in an order that does not depend on how the document lists them. */
function matrix(document: AccessDocument): string {
  const line = (subject: Subject) =>
    document.places.map((place) => `${place.id}: ${referenceSet(document, subject, place.id, NOW)}`).sort();
  return subjectsOf(document)
    .map((subject) => `${JSON.stringify(subject)} ${line(subject).join("; ")}`)
    .sort()
    .join("\n");
}

async function record(before: AccessDocument, after: AccessDocument, edits: Edit[], whole: boolean): Promise<Seq> {
  return inChange(async (tx) => {
    const effect = ripple(compile(before), compile(after), NOW);
    const entry = await appendEntry(
      tx,
      { maker: null, act: "rules", places: [], edits, ripple: effect, note: "", touchesAccess: true },
      NOW,
    );
    await writeDifference(tx, before, after, entry.seq, whole ? null : edits);
    return entry.seq;
  });
}

it("is rebuilt exactly as of every change, whatever replaced what, and the chain holds", async () => {
  const step = fc.record({ where: fc.nat(30), which: fc.nat(4), level: fc.nat(3), back: fc.boolean() });
  const kept: { seq: Seq; matrix: string }[] = [];
  let current = emptyDocument();
  const change = async (next: AccessDocument, edits: Edit[], whole = false) => {
    const seq = await record(current, next, edits, whole);
    current = next;
    kept.push({ seq, matrix: matrix(next) });
  };
  const editOf = (document: AccessDocument, { where, which, level }: { where: number; which: number; level: number }): Edit => {
    const place = document.places[where % document.places.length] as Place;
    const put: Grant = { to: { audience: "accounts" }, abilities: (["read", "discuss", "revise"] as const).slice(0, level + 1) };
    if (which === 0 && place.grants[0]) return { kind: "grant", place: place.id, remove: place.grants[0] };
    if (which === 1)
      return { kind: "fence", place: place.id, put: { kind: level % 2 ? "read" : "write", admits: [{ audience: "members" }] } };
    if (which === 2 && place.fences[0]) return { kind: "fence", place: place.id, remove: place.fences[0] };
    if (which === 3) return { kind: "stance", place: place.id, from: place.stance, to: place.stance === "fresh" ? "follow" : "fresh" };
    return { kind: "grant", place: place.id, put };
  };
  const histories = drawn(fc.tuple(world, fc.array(step, { minLength: 8, maxLength: 16 })), { runs: 6, seed: 2027 });
  for (const [document, steps] of histories) {
    // A whole other site over the old one, as an import would bring it; then change by change, some taken back at once.
    await change(normal(document), [], true);
    for (const it of steps) {
      const edits = [editOf(current, it)];
      const applied = applyEdits(current, edits);
      if (!applied.ok || checkDocument(applied.document).length > 0) continue;
      await change(applied.document, edits);
      if (!it.back) continue;
      const back = applyEdits(current, invertEdits(edits));
      if (back.ok) await change(back.document, invertEdits(edits));
    }
  }
  expect(kept.length).toBeGreaterThan(50);
  for (const { seq, matrix: then } of kept) {
    const rebuilt = await inSnapshot((tx) => loadDocument(tx, seq));
    expect(checkDocument(rebuilt)).toEqual([]);
    expect(matrix(rebuilt)).toBe(then);
  }
  expect(matrix(await inSnapshot((tx) => loadDocument(tx)))).toBe(kept.at(-1)?.matrix);
  expect(await inSnapshot(verifyLedger)).toMatchObject({ breaks: [], more: false });
});

it("any Markdown becomes a sound body", () => {
  const piece = fc.constantFrom(
    "# A",
    "**b**",
    "_c_",
    "`d`",
    "[e](page:x)",
    "[f](javascript:g)",
    "<script>h</script>",
    "- i\n  - j",
    "1. k",
    "> l",
    "```\nm\n```",
    "| n |\n| --- |\n| o |",
    "---",
    "![p](q.png)",
    "text",
    "\\",
    "&amp;",
    "  \n",
  );
  holds(
    fc.property(fc.array(piece, { maxLength: 12 }), fc.constantFrom("\n\n", "\n", " "), (pieces, between) => {
      expect(checkBody(bodyOfMarkdown(pieces.join(between)))).toEqual([]);
    }),
    { runs: 400 },
  );
});
