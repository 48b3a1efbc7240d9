/** What pages at Brinehaven are begun from, again and again. */

import { bodyOfMarkdown } from "../server/content/markdown.ts";
import { inSnapshot } from "../server/db/client.ts";
import { treesOf } from "../server/services/templates/found.ts";
import { makeTemplate } from "../server/services/templates/templates.ts";
import { addTemplatePage, readTemplatePage, saveTemplatePage } from "../server/services/templates/writing.ts";

interface DemoTemplate {
  maker: string;
  in: string;
  name: string;
  about: string;
  /** Title and text of each page; the first stands above the others. */
  pages: [title: string, text: string][];
}

const TEMPLATES: DemoTemplate[] = [
  {
    maker: "ines",
    in: "site",
    name: "Minutes",
    about: "Of any meeting: what was decided, and who does what.",
    pages: [
      [
        "Minutes of ‹date›",
        "Written by ‹who› for ‹space›.\n\n## Present\n\n- \n\n## Decided\n\n1. \n\n## To be done\n\n| What | Who | Until |\n| --- | --- | --- |\n| | | |",
      ],
    ],
  },
  {
    maker: "ines",
    in: "site",
    name: "Rooms for a project",
    about: "A first page, what was decided, and what is open.",
    pages: [
      ["About ‹space›", "Begun by ‹who› on ‹date›.\n\n## What it is for\n\n## Who is in it\n\n## When it ends"],
      ["Decisions", "The newest on top, each with its day and whoever decided."],
      ["Open questions", "Each with somebody to answer it."],
    ],
  },
  {
    maker: "maren",
    in: "quays",
    name: "Near miss",
    about: "What nearly went wrong on the quay, while it is fresh.",
    pages: [
      [
        "Near miss, ‹date›",
        "Reported by ‹who›.\n\n## What happened\n\n## What could have happened\n\n## What we do about it\n\n> Who was hurt? If anybody was, this is no near miss: call the safety office.",
      ],
    ],
  },
];

export async function loadTemplates(): Promise<void> {
  for (const { pages, maker, ...order } of TEMPLATES) {
    const { id } = await makeTemplate(maker, { ...order, below: false });
    const root = (await inSnapshot((tx) => treesOf(tx, [id]))).get(id)?.[0]?.id ?? "";
    for (const [nth, [title, text]] of pages.entries()) {
      const page = nth === 0 ? root : (await addTemplatePage(maker, id, { under: root, title })).id;
      const { version } = await readTemplatePage(maker, page);
      await saveTemplatePage(maker, page, { title, body: bodyOfMarkdown(text), base: version, note: "" });
    }
  }
}
