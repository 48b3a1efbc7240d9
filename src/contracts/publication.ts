/** Publication: where a page goes, when, who reads it there and who of its helpers stays; looked at, then done in one step. */
import "reflect-metadata";
import { Type } from "class-transformer";
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsObject,
  IsOptional,
  IsString,
  IsTimeZone,
  Matches,
  MaxLength,
  ValidateNested,
} from "class-validator";
import { LIMITS } from "../core/words.ts";
import { type Preview, WishBody } from "./change.ts";
import { AreTags, HasWords, IsInstant, MayBeAbsent, MOST_TAGS, VERSION } from "./checks.ts";
import { declare, json } from "./declare.ts";
import type { NowhereLink } from "./links.ts";
import type { Named } from "./people.ts";

/** An instant, and the zone it was chosen in, as "Europe/Berlin". */
export class InstantInZone {
  @IsInstant() at!: string;
  @IsTimeZone() zone!: string;
}

/** `live`: now; `schedule`: at an instant; `place`: a private draft becomes a draft there; `submit`: the same, given in for approval. */
export const PUBLICATIONS = ["live", "schedule", "place", "submit"] as const;
export type Publication = (typeof PUBLICATIONS)[number];

/** So many wishes about who reads it go with one publication. */
export const MOST_READER_WISHES = 12;

export class LookAtPublicationBody {
  @IsIn(PUBLICATIONS) what!: Publication;
  @Matches(VERSION) version!: string;
  /** What it will stand in; absent: where it stands. */
  @MayBeAbsent() @IsString() @MaxLength(64) to?: string;
  /** Of a private draft: what it becomes. */
  @MayBeAbsent() @IsIn(["page", "bulletin"]) as?: "page" | "bulletin";
  /** Helpers who keep what they have, as "person:mei"; all others leave when it goes live. */
  @IsArray() @ArrayMaxSize(200) @IsString({ each: true }) @MaxLength(80, { each: true }) keep!: string[];
  /** Who reads or writes it there, where that is to be otherwise than by what stands above. */
  @IsArray()
  @ArrayMaxSize(MOST_READER_WISHES)
  @IsObject({ each: true })
  @ValidateNested({ each: true })
  @Type(() => WishBody)
  wishes!: WishBody[];
  /** Whose it is from then on; absent: as now. */
  @MayBeAbsent() @IsString() @MaxLength(64) owner?: string;
  @MayBeAbsent() @IsArray() @ArrayMaxSize(MOST_TAGS) @AreTags() tags?: string[];
  /** How far it is, in a word of its space; empty: none. */
  @MayBeAbsent() @IsString() @MaxLength(200) readiness?: string;
  /** When it goes live, where that is scheduled. */
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => InstantInZone) at?: InstantInZone;
  /** When it is archived by itself. */
  @MayBeAbsent() @IsObject() @ValidateNested() @Type(() => InstantInZone) archive?: InstantInZone;
}

export class PublishBody extends LookAtPublicationBody {
  @IsString() @MaxLength(LIMITS.note) note!: string;
  /** Where one is asked for: a pledge overridden, approval that nobody could give. */
  @IsOptional() @IsString() @HasWords() @MaxLength(LIMITS.note) reason?: string;
  /** Fingerprint of the ripple that was on the screen. */
  @IsString() @MaxLength(64) seen!: string;
}

/** Who reads something, counted; guests by name for those who may know others there. */
export interface ReadersTold {
  public: boolean;
  passes: number;
  guests: number;
  guestNames: string[];
  members: number;
}

/** What the wishes about its readers come to. */
export interface RulesMade {
  sentences: string[];
  besides: string;
  exceptions: string[];
  /** Why nothing achieves them; empty where something does. */
  reason: string;
}

/** Before it goes live: everything that one should know. */
export interface PublicationSheet {
  /** What publishing changes in access. */
  preview: Preview;
  /** Where it will stand, from the space down, as far as the asker may know it. */
  path: string[];
  moves: boolean;
  /** Once it is live. */
  readers: ReadersTold;
  /** Links that some of those readers cannot follow: the title of the page and how many of them. */
  deadLinks: NowhereLink[];
  helpers: { key: string; name: string; can: string }[];
  mayKeepHelpers: boolean;
  /** Words of the house that stand in the text, as they stand there. */
  houseWords: string[];
  rules: RulesMade | null;
  /** Whether who reads it can be changed here. */
  mayWish: boolean;
  owner: Named | null;
  mayHandOver: boolean;
  tags: string[];
  mayTag: boolean;
  readiness: string;
  readinessWords: string[];
  /** The space asks for approval, and this version has none. */
  unapproved: boolean;
}

export interface Published {
  /** The page it is; of a private draft, the one it became. */
  page: string;
  /** The version readers get; null where they get none yet. */
  version: string | null;
  /** What is written on from now on. */
  newest: string;
  /** When it goes live by itself. */
  at: string | null;
}

const pageSheet = { who: "signedIn", body: LookAtPublicationBody, answer: json<PublicationSheet>("PublicationSheet") } as const;
const done = { who: "signedIn", body: PublishBody, answer: json<Published>("Published") } as const;

export const lookAtPublication = declare({
  ...pageSheet,
  method: "POST",
  path: "/api/pages/{id}/publish/look",
  says: "Who will be able to read a page once it is live, and what is in the way; changes nothing.",
});

export const publish = declare({
  ...done,
  method: "POST",
  path: "/api/pages/{id}/publish",
  says: "Publishes a version now or at an instant, where it stands or elsewhere.",
});

export const lookAtDraftPublication = declare({
  ...pageSheet,
  method: "POST",
  path: "/api/workbench/{id}/publish/look",
  says: "What placing or publishing a private draft would do; changes nothing.",
});

export const publishDraft = declare({
  ...done,
  method: "POST",
  path: "/api/workbench/{id}/publish",
  says: "Places a private draft, and publishes it, schedules it or gives it in for approval in the same step.",
});

export class DestinationsQuery {
  /** What stands in this place; absent: the spaces. */
  @MayBeAbsent() @IsString() @MaxLength(64) in?: string;
  /** The page that is to go there, which may not stand below itself. */
  @MayBeAbsent() @IsString() @MaxLength(64) page?: string;
  /** Of a bulletin, which stands in a space. */
  @MayBeAbsent() @IsIn(["page", "bulletin"]) as?: "page" | "bulletin";
  @MayBeAbsent() @IsString() @MaxLength(64) after?: string;
}

/** A place something may be published in. */
export interface Destination {
  id: string;
  title: string;
  kind: "space" | "page";
  /** Whether pages stand in it that can be shown. */
  hasMore: boolean;
  /** Who would read it there; null for who may not know. */
  readers: { public: boolean; guests: number; members: number } | null;
  /** Why it may not be put there, or may be and not published; empty where it may. */
  off: string;
  onlyDraft: string;
  approval: boolean;
}

export interface Destinations {
  places: Destination[];
  next: string | null;
}

export const listDestinations = declare({
  method: "GET",
  path: "/api/destinations",
  who: "signedIn",
  says: "Where a page may be published, place by place, and who would read it there.",
  query: DestinationsQuery,
  answer: json<Destinations>("Destinations"),
});
