/** The life of pages and spaces: acts with their choices, looked at before they are done. */
import "reflect-metadata";
import { Type } from "class-transformer";
import { IsBoolean, IsObject, IsString, MaxLength, ValidateNested } from "class-validator";
import type { PlaceKind } from "../core/access/model/index.ts";
import type { Below, ImpactLine } from "../core/lifecycle/index.ts";
import { LifeActBody } from "./acts.ts";
import type { Preview } from "./change.ts";
import { declare, json } from "./declare.ts";

/** Some things: the first by name, how many there are, and how many of those the asker cannot see. */
export interface Told {
  count: number;
  hidden: number;
  items: { id: string; title: string; note: string }[];
}

/** One line of what an act breaks. */
export interface BreakTold extends Told {
  line: ImpactLine;
  sentence: string;
}

/** What must be chosen before the act can be done. */
export type ChoiceTold =
  | { choose: "below"; options: Below[]; pages: Told }
  | { choose: "landing"; space: { id: string; title: string }; candidates: { id: string; title: string }[]; may: boolean }
  | { choose: "destination"; pages: Told }
  | { choose: "arrival"; pages: Told };

/** Something of what comes back that is otherwise than before, in words. */
export interface ReturnTold {
  what: "elsewhere" | "draft" | "handedUp" | "movedSince" | "notLanding" | "pass";
  sentence: string;
  /** Of passes that can be chosen. */
  pass?: string;
  works?: boolean;
}

/** The sheet of an act: what it would do, what it breaks, what is to be chosen, how it is taken back. */
export interface ActSheet extends Preview {
  title: string;
  label: string;
  places: Told;
  kinds: PlaceKind[];
  along: Told;
  handedUp: Told;
  breaks: BreakTold[];
  views30: number | null;
  choices: ChoiceTold[];
  returning: ReturnTold[];
  /** Of what comes back: who will read it and could not when it left. */
  newReaders: { sentence: string; names: string[] } | null;
  /** Pages that were handed up and can come back. */
  mayBringBack: number;
  misfits: string[];
  back: string;
  /** How many are erased: the number to be typed. */
  erased: number;
}

export class CopyBody {
  /** The space or page it goes into. */
  @IsString() @MaxLength(64) to!: string;
  /** With all that is below it. */
  @IsBoolean() below!: boolean;
}

/** The copy, and how many pages came of it. */
export interface Copied {
  id: string;
  pages: number;
}

export const copyPage = declare({
  method: "POST",
  path: "/api/pages/{id}/copy",
  who: "member",
  says: "Copies a page, alone or with what is below it, as an own draft.",
  body: CopyBody,
  answer: json<Copied>("Copied"),
});

export class LookBody {
  @IsObject() @ValidateNested() @Type(() => LifeActBody) act!: LifeActBody;
}

export const lookAtAct = declare({
  method: "POST",
  path: "/api/acts/look",
  who: "member",
  says: "What an act on pages or spaces would do, break and carry along, and what is to be chosen; changes nothing.",
  body: LookBody,
  answer: json<ActSheet>("ActSheet"),
});
