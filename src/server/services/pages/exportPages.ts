/** All pages that fit a filter, as a file in one of the formats there are. */
import type { PageRow, PagesExportQuery } from "../../../contracts/pages.ts";
import { inSnapshotOfLists } from "../../db/client.ts";
import { streamed } from "../programs/exports/formats.ts";
import { rowsThatFit } from "./pages.ts";

const COLUMNS = [
  "id",
  "title",
  "kind",
  "state",
  "in",
  "owner",
  "changed",
  "by",
  "published",
  "views in 30 days",
  "public",
  "guests",
  "tags",
  "readiness",
  "links in",
  "versions",
  "left",
  "left by",
  "looked at again",
];

const number = (value: number | null): string => (value === null ? "" : String(value));

const line = (row: PageRow): string[] => [
  row.id,
  row.title,
  row.kind,
  row.state,
  row.path.join(" / "),
  row.owner,
  row.changed,
  row.by,
  row.published ?? "",
  number(row.views),
  row.outside ? (row.outside.public ? "yes" : "no") : "",
  row.outside ? String(row.outside.guests) : "",
  row.tags.join(", "),
  row.readiness ?? "",
  number(row.links),
  number(row.versions),
  row.left?.at ?? "",
  row.left?.by ?? "",
  row.review ?? "",
];

export async function exportPages(asker: string, { format, ...filter }: PagesExportQuery): Promise<Response> {
  const { count, rows } = await inSnapshotOfLists((tx) => rowsThatFit(tx, asker, filter));
  const lines = function* () {
    for (const row of rows()) yield line(row);
  };
  return streamed(format, "pages", COLUMNS, lines(), () => count);
}
