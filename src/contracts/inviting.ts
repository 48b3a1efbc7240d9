/** Asking people in: what they would see, the invitations there are, sending again, ending. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  ArrayMinSize,
  ArrayUnique,
  IsArray,
  IsEmail,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from "class-validator";
import { LIMITS } from "../core/words.ts";
import type { Made, Preview } from "./change.ts";
import { HasWords, IsInstant, IsLine, MayBeAbsent } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { Levels, Named } from "./people.ts";
import { ActingBody } from "./rules.ts";

/** So many are asked in at once, and so many places and groups are named for them. */
export const MOST_ASKED = 100;
const MOST_PLACES = 20;

/** Days for which an invitation can be taken up. */
export const INVITATION_DAYS = 14;

export class AskedBody {
  @IsLine(LIMITS.group) @HasWords() name!: string;
  @IsString() @MaxLength(200) @IsEmail({}, { message: "email must be a mail address, like ana@example.org" }) email!: string;
}

export class InviteBody {
  @IsIn(["guest", "member"]) kind!: "guest" | "member";
  @IsArray()
  @ArrayMinSize(1)
  @ArrayMaxSize(MOST_ASKED)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @Type(() => AskedBody)
  people!: AskedBody[];
  /** Where they get the level, and groups they are put into. */
  @IsArray() @ArrayMaxSize(MOST_PLACES) @ArrayUnique() @IsString({ each: true }) @MaxLength(64, { each: true }) places!: string[];
  @IsArray() @ArrayMaxSize(MOST_PLACES) @ArrayUnique() @IsString({ each: true }) @MaxLength(64, { each: true }) groups!: string[];
  @IsInt() @Min(1) @Max(4) level!: 1 | 2 | 3 | 4;
  /** Their end, and that of what they are granted; null: none, which a guest always has. */
  @IsOptional() @IsInstant() until!: string | null;
}

export class SendBody extends InviteBody {
  /** What whoever is asked in reads first. */
  @IsString() @MaxLength(LIMITS.note) message!: string;
  @IsString() @MaxLength(LIMITS.note) note!: string;
  @MayBeAbsent() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
  @IsString() @MaxLength(64) seen!: string;
}

/** What the first of those asked in would see, by space; what of it is not at or below the places named. */
export interface Sight {
  spaces: { space: Named; levels: Levels; besides: number }[];
  more: number;
  /** Pages besides, the first few, and how many one cannot see oneself. */
  besides: Named[];
  hidden: number;
}

export interface InvitationLook {
  preview: Preview;
  sight: Sight;
  /** For site keepers: which addresses are somebody's already, and whose. */
  taken: { email: string; says: string }[];
}

export const lookAtInvitation = declare({
  method: "POST",
  path: "/api/invitations/look",
  who: "member",
  says: "What people who are asked in so would see, and what is in the way; changes nothing.",
  body: InviteBody,
  answer: json<InvitationLook>("InvitationLook"),
});

/** A link that whoever asked for it hands on, where nothing sends mail. It is shown this once. */
export interface HandedOn extends Named {
  link: string | null;
}

export interface Sent extends Made {
  people: HandedOn[];
}

export const invite = declare({
  method: "POST",
  path: "/api/invitations",
  who: "member",
  says: "Asks people in: they and what they are granted exist from now on, their accounts once they take it up.",
  body: SendBody,
  answer: json<Sent>("Sent"),
});

export interface InvitationRow extends Named {
  /** To whom, for site keepers and whoever asked them in. */
  email: string;
  kind: "guest" | "member";
  by: string;
  at: string;
  until: string;
  state: "waiting" | "taken" | "ended";
  /** When it was taken up, or ended. */
  outcomeAt: string | null;
  /** Their own end. */
  end: string | null;
}

export interface InvitationList {
  invitations: InvitationRow[];
  /** How many older ones there are. */
  more: number;
}

export const readInvitations = declare({
  method: "GET",
  path: "/api/invitations",
  who: "member",
  says: "Who was asked in: by oneself, or, for site keepers, by anybody; the newest first.",
  answer: json<InvitationList>("InvitationList"),
});

export const sendAgain = declare({
  method: "POST",
  path: "/api/invitations/{id}/send",
  who: "member",
  says: "Sends an invitation once more; the link sent before stops working.",
  answer: json<HandedOn>("HandedOn"),
});

export const endInvitation = declare({
  method: "POST",
  path: "/api/invitations/{id}/end",
  who: "member",
  says: "Ends an invitation nobody took up: who was asked in is suspended, what they were granted is taken away.",
  answer: json<Made>("Made"),
});

export class EndOfGuestBody extends ActingBody {
  /** The new end. */
  @IsInstant() until!: string;
}

export class LookAtEndBody {
  @IsInstant() until!: string;
}

export const lookAtEnd = declare({
  method: "POST",
  path: "/api/guests/{id}/end/look",
  who: "member",
  says: "What another end of a guest, and of what they were granted until the old one, would do.",
  body: LookAtEndBody,
  answer: json<Preview>("Preview"),
});

export const moveEnd = declare({
  method: "POST",
  path: "/api/guests/{id}/end",
  who: "member",
  says: "Gives a guest another end, and with it what they were granted until the old one.",
  body: EndOfGuestBody,
  answer: json<Made>("Made"),
});

export const askInKnown = declare({
  method: "POST",
  path: "/api/people/{id}/ask-in",
  who: "member",
  says: "Asks in somebody who is here already and has no account: who came with a table.",
  answer: json<HandedOn>("HandedOn"),
});
