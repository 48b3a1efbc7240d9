/** The contents of a space: looking at what readers find in them, as arranged or as they would be. */
import "reflect-metadata";
import { Type } from "class-transformer";
import { IsObject, ValidateNested } from "class-validator";
import type { SpaceContents } from "../core/access/model/index.ts";
import type { ContentsTrouble } from "../core/contents/index.ts";
import { MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Named } from "./people.ts";
import { ContentsBody } from "./spaceEdits.ts";

export class LookAtContentsBody {
  /** As they are being arranged; absent: as they stand. */
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => ContentsBody) contents?: ContentsBody;
}

/** One line as readers get it. */
export interface ContentsLook {
  title: string;
  address: string;
  /** As they stand, whatever is being arranged. */
  standing: SpaceContents;
  byName: boolean;
  landing: Named | null;
  /** Titles of the pages that stand in entries, by id. */
  titles: Record<string, string>;
  lines: {
    kind: "heading" | "link" | "page";
    id: string;
    words: string;
    depth: number;
    /** Whether the public reads it. */
    outside: boolean;
  }[];
  /** How many live pages are not among the lines. */
  more: number;
  /** The first of them, with titles of the pages in question, and how many there are. */
  troubles: { trouble: ContentsTrouble; title: string }[];
  troublesMore: number;
}

export const lookAtContents = declare({
  method: "POST",
  path: "/api/spaces/{id}/contents",
  who: "member",
  says: "The contents of a space line by line, and what looks wrong with them; changes nothing.",
  body: LookAtContentsBody,
  answer: json<ContentsLook>("ContentsLook"),
});
