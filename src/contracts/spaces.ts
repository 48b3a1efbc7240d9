/** Spaces: starting one. */
import "reflect-metadata";
import { IsString, MaxLength } from "class-validator";
import { LIMITS } from "../core/words.ts";
import { declare, json } from "./declare.ts";
import { HasWords } from "./rules.ts";
import type { Started } from "./writing.ts";

export class StartSpaceBody {
  @IsString() @HasWords() @MaxLength(LIMITS.title) title!: string;
  /** What it is for, in a sentence; readers see it at the front door. */
  @IsString() @MaxLength(LIMITS.note) purpose!: string;
}

export const startSpace = declare({
  method: "POST",
  path: "/api/spaces",
  who: "member",
  says: "Starts a space, with no rules of its own.",
  body: StartSpaceBody,
  answer: json<Started>("Started"),
});
