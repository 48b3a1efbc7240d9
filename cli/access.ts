/** `npm run --silent access -- COMMAND`: answers questions from an access document, with no server and no database. */
import { createReadStream } from "node:fs";
import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { flat, ripple } from "../src/core/access/ripple/index.ts";
import { answerDecide, answerExplain, answerIdle, answerPledges, answerPropose, writeMatrix } from "./access/answers.ts";
import { QuestionError, readIndex, readInstant, UsageError } from "./access/reading.ts";

const USAGE = `Usage:
  npm run --silent access -- decide  --document FILE [--at INSTANT]   questions on standard input, one JSON object a line:
                                                                      {"subject": {"person": ID}, "place": ID}
  npm run --silent access -- explain --document FILE [--at INSTANT]   the same questions, with "ability"
  npm run --silent access -- propose --document FILE [--at INSTANT]   one JSON object a line:
                                                                      {"wishes": [{"place": ID, "principal": {"group": ID}, "level": "Writer"}]}
  npm run --silent access -- ripple  --before FILE --after FILE [--at INSTANT]
  npm run --silent access -- pledges --document FILE [--at INSTANT]   every pledge, whether it holds, and a witness where not
  npm run --silent access -- idle    --document FILE [--at INSTANT]   rules that do nothing, or not what they seem to
  npm run --silent access -- matrix  --document FILE --out FILE.csv [--at INSTANT]`;

/** Answers every line of standard input; true if all of them were questions. */
async function answerLines(answer: (line: string) => unknown): Promise<boolean> {
  let sound = true;
  let waiting: string[] = [];
  const flush = () =>
    new Promise<void>((done) => {
      const text = waiting.join("");
      waiting = [];
      process.stdout.write(text, () => done());
    });
  for await (const line of createInterface({ input: createReadStream("", { fd: 0 }), crlfDelay: Number.POSITIVE_INFINITY })) {
    if (line.trim() === "") continue;
    try {
      waiting.push(`${JSON.stringify(answer(line))}\n`);
    } catch (error) {
      if (!(error instanceof QuestionError)) throw error;
      sound = false;
      waiting.push(`${JSON.stringify({ error: error.message })}\n`);
    }
    if (waiting.length >= 4096) await flush();
  }
  await flush();
  return sound;
}

const print = (value: unknown): void => void process.stdout.write(`${JSON.stringify(value, null, 2)}\n`);

const BY_LINE = { decide: answerDecide, explain: answerExplain, propose: answerPropose };
const WHOLE = { pledges: answerPledges, idle: answerIdle };

async function main(): Promise<number> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      document: { type: "string" },
      at: { type: "string" },
      before: { type: "string" },
      after: { type: "string" },
      out: { type: "string" },
    },
  });
  const at = readInstant(values.at);
  const [command] = positionals;
  if (positionals.length > 1) throw new UsageError(`one command at a time; "${positionals[1]}" is one too many`);
  switch (command) {
    case "decide":
    case "explain":
    case "propose": {
      const index = readIndex(values.document, "document");
      return (await answerLines((line) => BY_LINE[command](index, line, at))) ? 0 : 1;
    }
    case "pledges":
    case "idle":
      print(WHOLE[command](readIndex(values.document, "document"), at));
      return 0;
    case "ripple":
      print(flat(ripple(readIndex(values.before, "before"), readIndex(values.after, "after"), at)));
      return 0;
    case "matrix":
      await writeMatrix(readIndex(values.document, "document"), at, values.out);
      return 0;
    default:
      throw new UsageError(command === undefined ? USAGE : `unknown command "${command}"\n${USAGE}`);
  }
}

try {
  process.exitCode = await main();
} catch (error) {
  const mendable = error instanceof UsageError || (error as { code?: string }).code?.startsWith("ERR_PARSE_ARGS");
  if (!mendable) throw error;
  console.error(`access: ${(error as Error).message}`);
  process.exitCode = 2;
}
