/** Tags of the site, with how many pages bear them. */
import "reflect-metadata";
import { IsString, MaxLength } from "class-validator";
import { MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";

export class TagsQuery {
  @MayBeAbsent() @IsString() @MaxLength(100) q?: string;
}

export interface TagList {
  /** `pledged`: a pledge goes by it. */
  tags: { tag: string; count: number; pledged: boolean }[];
  total: number;
  /** Whether the asker may rename and merge tags everywhere. */
  mayChange: boolean;
}

export const listTags = declare({
  method: "GET",
  path: "/api/tags",
  who: "member",
  says: "Tags on pages the asker may see, the most used first, each with how many bear it.",
  query: TagsQuery,
  answer: json<TagList>("TagList"),
});
