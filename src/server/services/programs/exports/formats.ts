/** Lines as CSV, JSON or XLSX, streamed: memory stays flat however many there are. */
import { PassThrough, Readable } from "node:stream";
import papaparse from "papaparse";
import { Trouble } from "../../../trouble.ts";

export const FORMATS = ["csv", "json", "xlsx"] as const;
export type Format = (typeof FORMATS)[number];

/** A line as its cells, or in parts that repeat from line to line. */
export type Line = readonly string[] | { parts: readonly (readonly string[])[] };

const MIME: Record<Format, string> = {
  csv: "text/csv; charset=utf-8",
  json: "application/json; charset=utf-8",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
};

/** Rows of a worksheet, the head included. */
const SHEET_ROWS = 1_048_576;
const CHUNK = 1 << 16;

const partsOf = (line: Line): readonly (readonly string[])[] => ("parts" in line ? line.parts : [line as readonly string[]]);

/** Puts each part into text once, for as long as the same part comes again. */
function remembered(write: (cells: readonly string[], from: number) => string): (line: Line) => string[] {
  const known = new WeakMap<readonly string[], string>();
  return (line) => {
    let from = 0;
    return partsOf(line).map((part) => {
      let text = known.get(part);
      if (text === undefined) {
        text = write(part, from);
        known.set(part, text);
      }
      from += part.length;
      return text;
    });
  };
}

/**
 * A cell never starts a formula in the program that opens the file: not after blanks, line breaks or characters that show
 * nothing, which programs leave out, and not by a full-width sign, which some take for the narrow one.
 */
const STARTS_A_FORMULA = /^[\s\p{Z}\p{C}"']*[=+\-@\t\r|%\uff1d\uff0b\uff0d\uff20\ufe62\ufe63\ufe66\ufe6b\u2212]/u;

/** Whether a cell would start a formula, and is disarmed by a sign in front of it. */
export const startsAFormula = (cell: string): boolean => STARTS_A_FORMULA.test(cell);

function* csvText(columns: readonly string[], lines: Iterable<Line>): IterableIterator<string> {
  const cells = (part: readonly string[]) => papaparse.unparse([part as string[]], { escapeFormulae: STARTS_A_FORMULA });
  const write = remembered(cells);
  yield `${cells(columns)}\r\n`;
  for (const line of lines) yield `${write(line).join(",")}\r\n`;
}

function* jsonText(columns: readonly string[], lines: Iterable<Line>): IterableIterator<string> {
  const write = remembered((part, from) => part.map((cell, i) => `${JSON.stringify(columns[from + i])}:${JSON.stringify(cell)}`).join(","));
  yield "[";
  let first = true;
  for (const line of lines) {
    yield `${first ? "\n" : ",\n"}{${write(line).join(",")}}`;
    first = false;
  }
  yield "\n]\n";
}

/** Gathers short texts into chunks worth sending, as bytes. */
function* inChunks(texts: Iterable<string>): IterableIterator<Buffer> {
  let chunk = "";
  for (const text of texts) {
    chunk += text;
    if (chunk.length < CHUNK) continue;
    yield Buffer.from(chunk);
    chunk = "";
  }
  if (chunk !== "") yield Buffer.from(chunk);
}

const turn = (): Promise<void> => new Promise((later) => setImmediate(later));

/** Lets others have their turn after each chunk: many lines are made one after the other, and nobody waits for all of them. */
async function* inTurns<T>(chunks: Iterable<T>): AsyncIterableIterator<T> {
  for (const chunk of chunks) {
    yield chunk;
    await turn();
  }
}

/** So many rows of a worksheet at a turn. */
const ROWS = 200;

function xlsxStream(columns: readonly string[], lines: Iterable<Line>): Readable {
  const out = new PassThrough();
  const write = async () => {
    // Read in where a worksheet is asked for: it takes a good part of a second, in which nobody else is served.
    const { default: exceljs } = await import("exceljs");
    const book = new exceljs.stream.xlsx.WorkbookWriter({ stream: out, useStyles: false, useSharedStrings: false });
    const sheet = book.addWorksheet("Access");
    sheet.addRow([...columns]).commit();
    let count = 0;
    for (const line of lines) {
      // Written as text: what begins like a formula stays a text.
      sheet.addRow(partsOf(line).flat()).commit();
      // Lets what is written flow on before more is made.
      if (++count % ROWS === 0) await turn();
      while (out.writableNeedDrain && !out.destroyed) await new Promise((later) => out.once("drain", later));
      if (out.destroyed) return;
    }
    sheet.commit();
    await book.commit();
  };
  write().catch((error) => out.destroy(error as Error));
  return out;
}

/** A response that streams lines under these columns. `count` says how many there are, where a format has a limit. */
export function streamed(format: Format, file: string, columns: readonly string[], lines: Iterable<Line>, count: () => number): Response {
  if (format === "xlsx") {
    const rows = count();
    if (rows + 1 > SHEET_ROWS)
      throw new Trouble(
        422,
        "tooManyRows",
        `A worksheet holds ${SHEET_ROWS.toLocaleString("en")} rows; this would be ${(rows + 1).toLocaleString("en")}. Ask for CSV or JSON, or for a smaller part.`,
      );
  }
  const source =
    format === "xlsx"
      ? xlsxStream(columns, lines)
      : Readable.from(inTurns(inChunks((format === "csv" ? csvText : jsonText)(columns, lines))));
  return new Response(Readable.toWeb(source as Readable) as ReadableStream, {
    headers: {
      "content-type": MIME[format],
      "content-disposition": `attachment; filename="${file}.${format}"`,
      "cache-control": "no-store",
      "x-content-type-options": "nosniff",
    },
  });
}
