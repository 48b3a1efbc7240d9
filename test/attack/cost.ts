/** The costliest bodies for every endpoint that takes one: how they are answered, and how long others wait meanwhile. */
import { CONTRACTS } from "../../src/contracts/all.ts";
import { costly, fieldsOf } from "../costly.ts";
import type { Stage } from "./stage.ts";

/** Bytes that a refusal may be long. */
const MOST_ANSWERED = 24_000;

/** What was answered with a fault, or at more length than it may: nothing, if all is well. */
export async function attackByCost(stage: Stage): Promise<string[]> {
  const wrong: string[] = [];
  for (const { method, path, body } of CONTRACTS) {
    if (!body) continue;
    for (const [what, sent] of costly(fieldsOf(body))) {
      const { status, text } = await stage.ask("maren", method, path.replace(/^\/api\//, "").replace(/\{\w+\}/g, "cranes"), sent);
      if (status >= 500 || text.length > MOST_ANSWERED) wrong.push(`${method} ${path}, ${what}: answered ${status}, ${text.length} bytes`);
    }
  }
  return wrong;
}
