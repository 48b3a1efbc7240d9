/** `npm run schemas`: writes the JSON schemas of all answers from their types, for the description of the interfaces. */
import { writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { createGenerator } from "ts-json-schema-generator";
import { CONTRACTS } from "../src/contracts/all.ts";

const ROOT = fileURLToPath(new URL("..", import.meta.url));
export const SCHEMAS = `${ROOT}src/contracts/answers.schema.json`;

/** The schemas of every answer a contract names, as the file has them. */
export function answerSchemas(): string {
  const generator = createGenerator({
    path: `${ROOT}src/contracts/*.ts`,
    tsconfig: `${ROOT}tsconfig.json`,
    skipTypeCheck: true,
    expose: "export",
    topRef: true,
    additionalProperties: false,
  });
  const definitions: Record<string, unknown> = {};
  for (const { answer } of CONTRACTS) if (answer.schema) Object.assign(definitions, generator.createSchema(answer.schema).definitions);
  const sorted = Object.fromEntries(Object.entries(definitions).sort(([a], [b]) => (a < b ? -1 : 1)));
  return `${JSON.stringify(sorted, null, 1)}\n`;
}

if (process.argv[1]?.endsWith("schemas.ts")) writeFileSync(SCHEMAS, answerSchemas());
