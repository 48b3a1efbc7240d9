/** A link to a page that somebody may not know of shows through no door which page it is, and is still there after they saved. */
import { beforeAll, expect, it } from "vitest";
import { onDatabase } from "../../../test/database.ts";
import { type PageBody, pagesLinkedFrom } from "../../core/content/index.ts";
import { inSnapshot } from "../db/client.ts";
import { copyPage } from "../services/life/copying.ts";
import { listTemplates, makeTemplate } from "../services/templates/templates.ts";
import { startFromTemplate } from "../services/templates/using.ts";
import { readTemplatePage } from "../services/templates/writing.ts";
import { readVersion } from "../services/versions/version.ts";
import { beginDraft } from "../services/workbench/beginning.ts";
import { letHelperIn } from "../services/workbench/helpers.ts";
import { readDraft, readDraftVersion, saveDraft } from "../services/workbench/writing.ts";
import { publishPage } from "../services/writing/publishing.ts";
import { newestVersion } from "../services/writing/versions.ts";
import { readWorking, saveVersion, startPage } from "../services/writing/writing.ts";
import type { Trouble } from "../trouble.ts";

onDatabase("demo");

/** Keeps the site and knows it; writes in the Quays and knows nothing of it; only reads there. */
const [KNOWS, WRITES] = ["ines", "jonas"];
const HIDDEN = "patrols";
const words = (text: string, ...pages: string[]): PageBody => ({
  schema: 1,
  content: [
    {
      type: "paragraph",
      content: [
        { type: "text", text },
        ...pages.map((page) => ({
          type: "text" as const,
          text: ` to ${page.length}`,
          marks: [{ type: "link" as const, attrs: { page } }],
        })),
      ],
    },
  ],
});
const linked = (body: PageBody) => pagesLinkedFrom(body);
const both = { title: "Ways", note: "" };
const conflict = (work: Promise<unknown>) =>
  work.catch((error: Trouble) => (error.details as { body: PageBody }).body) as Promise<PageBody>;
let page = "";

beforeAll(async () => {
  ({ id: page } = await startPage(KNOWS, { parent: "quays", as: "page", title: "Ways", body: words("Go", HIDDEN, "cranes") }));
  await publishPage(KNOWS, page, { version: "0.1", note: "" });
});

it("shows it nowhere: not to who writes, compares, is refused over newer words, copies, is let into a draft, or begins from a template", async () => {
  const found: Record<string, PageBody> = {
    writing: (await readWorking(WRITES, page)).body,
    version: (await readVersion(WRITES, page, "1.0")).body,
    conflict: await conflict(saveVersion(WRITES, page, { ...both, body: words("x"), base: "0.1" })),
  };
  const copy = await copyPage(WRITES, page, { to: "quays", below: false });
  found.copy = (await inSnapshot((tx) => newestVersion(tx, copy.id))).body;
  const own = await beginDraft(WRITES, { copy: page });
  found.draft = (await readDraft(WRITES, own.id)).body;
  const theirs = await beginDraft(KNOWS, { copy: page });
  await letHelperIn(KNOWS, theirs.id, { person: WRITES, level: "write" });
  found.helper = (await readDraft(WRITES, theirs.id)).body;
  found.helperVersion = (await readDraftVersion(WRITES, theirs.id, "0.1")).body;
  found.helperConflict = await conflict(saveDraft(WRITES, theirs.id, { ...both, body: words("x"), base: "0.0" }));
  const template = await makeTemplate(KNOWS, { in: "quays", from: page, name: "Ways", about: "", below: false });
  const begun = await startFromTemplate(WRITES, { parent: "quays", as: "page", template: template.id });
  found.begun = (await inSnapshot((tx) => newestVersion(tx, begun.id))).body;
  const known = (await listTemplates("maren", { in: "quays" })).templates.find(({ id }) => id === template.id);
  found.template = (await readTemplatePage("maren", known?.pages[0]?.id ?? "")).body;
  for (const [door, body] of Object.entries(found)) {
    expect([door, JSON.stringify(body).includes(HIDDEN)]).toEqual([door, false]);
    expect([door, linked(body)]).toEqual([door, expect.arrayContaining(["cranes"])]);
  }
  // What somebody writes on stands for the page; what is theirs is words alone.
  expect(["writing", "version", "conflict", "helper"].map((door) => linked(found[door] as PageBody).length)).toEqual([2, 2, 2, 2]);
  expect(["copy", "draft", "begun"].map((door) => linked(found[door] as PageBody))).toEqual([["cranes"], ["cranes"], ["cranes"]]);
  // Whoever knows of it sees it everywhere.
  expect(linked((await readWorking(KNOWS, page)).body)).toContain(HIDDEN);
});

it("keeps it when they save: from what they read, from an older version, in a private draft; and what they make up leads nowhere", async () => {
  const read = (await readWorking(WRITES, page)).body;
  const stand = linked(read).find((it) => it !== "cranes") ?? "";
  await saveVersion(WRITES, page, { ...both, body: words("Without", "cranes"), base: "1.0" });
  await saveVersion(WRITES, page, { ...both, body: read, base: "1.1" });
  const newest = () => inSnapshot((tx) => newestVersion(tx, page));
  expect(linked((await newest()).body)).toEqual([HIDDEN, "cranes"]);
  const draft = await beginDraft(KNOWS, { copy: page });
  await letHelperIn(KNOWS, draft.id, { person: WRITES, level: "write" });
  await saveDraft(WRITES, draft.id, { ...both, body: (await readDraft(WRITES, draft.id)).body, base: "0.1" });
  expect(linked((await readDraft(KNOWS, draft.id)).body)).toEqual([HIDDEN, "cranes"]);
  // Of somebody else what stands for a page is something else, and cannot be made up.
  const forged = words("x", stand, `gap-${"0".repeat(16)}`);
  const base = (await readWorking("maren", page)).version;
  await saveVersion("maren", page, { ...both, body: forged, base });
  expect(linked((await newest()).body)).toEqual(linked(forged));
});
