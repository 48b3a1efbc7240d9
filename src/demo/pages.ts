/** Reads the texts of the demo's pages: a line of facts, then Markdown. */
import type { PageBody } from "../core/content/index.ts";
import { bodyOfMarkdown } from "../server/content/markdown.ts";

export interface DemoPage {
  id: string;
  title: string;
  parent: string;
  owner: string;
  daysAgo: number;
  kind: "page" | "bulletin";
  state: "live" | "draft" | "scheduled" | "archived" | "binned";
  tags: string[];
  versions: number;
  body: PageBody;
}

const STATES = ["draft", "scheduled", "archived", "binned"] as const;

/** `=== id | title | parent | owner | days ago | flags`, each followed by its text. */
export function readTexts(file: string): DemoPage[] {
  return file
    .split(/^=== /m)
    .slice(1)
    .map((section) => {
      const end = section.indexOf("\n");
      const [id = "", title = "", parent = "", owner = "", days = "", flags = ""] = section
        .slice(0, end)
        .split("|")
        .map((it) => it.trim());
      const words = flags.split(/[;,]/).map((it) => it.trim());
      const value = (name: string) => words.flatMap((word) => (word.startsWith(`${name}=`) ? [word.slice(name.length + 1)] : []));
      return {
        id,
        title,
        parent,
        owner,
        daysAgo: Number(days),
        kind: words.includes("bulletin") ? "bulletin" : "page",
        state: STATES.find((state) => words.includes(state)) ?? "live",
        tags: value("tags"),
        versions: Number(value("v")[0] ?? 1),
        body: bodyOfMarkdown(section.slice(end + 1)),
      };
    });
}
