/** The pen: who edits a page now. Asked for, handed over, taken, laid down. */
import { IsIn, IsString, MaxLength } from "class-validator";
import { declare, file, json, NoQuery } from "./declare.ts";

/** `take`: pick it up, or take it from somebody; `stay`: still here; `lay`: lay it down; `ask`: ask whoever has it; `hand`: to whoever asks; `keep`: not now. */
export const PEN_ACTS = ["take", "stay", "lay", "ask", "hand", "keep"] as const;
export type PenAct = (typeof PEN_ACTS)[number];

export class PenBody {
  @IsIn(PEN_ACTS) act!: PenAct;
}

export class WatchPenQuery {
  /** Whom the page was made for: no events are sent in another's name. */
  @IsString() @MaxLength(64) for!: string;
}

/** How the pen of a page stands, for somebody who writes it. */
export interface Pen {
  /** Null: it lies there for whoever takes it. */
  holder: { name: string; mine: boolean; since: string; typedAt: string } | null;
  /** Who asks for it: told to whoever has it, and to whoever asks. */
  asking: { name: string; mine: boolean } | null;
  /** Why it cannot be taken at this moment; empty where it can. */
  untakable: string;
  /** The newest version there is. */
  newest: string;
}

export const readPen = declare({
  method: "GET",
  path: "/api/pages/{id}/pen",
  who: "signedIn",
  says: "Who has the pen of a page, for those who write it.",
  query: NoQuery,
  answer: json<Pen>("Pen"),
});

export const actOnPen = declare({
  method: "POST",
  path: "/api/pages/{id}/pen",
  who: "signedIn",
  says: "Takes the pen of a page, asks for it, hands it over, or lays it down.",
  body: PenBody,
  answer: json<Pen>("Pen"),
});

export const watchPen = declare({
  method: "GET",
  path: "/api/pages/{id}/pen/events",
  who: "signedIn",
  says: "Who has the pen of a page, as events, for as long as one may know.",
  query: WatchPenQuery,
  answer: file("text/event-stream"),
});
