/** Approval of versions, where a space asks for it: given in, taken out again, approved, sent back. */
import { IsIn, IsString, Matches, MaxLength } from "class-validator";
import { LIMITS } from "../core/words.ts";
import { VERSION } from "./checks.ts";
import { declare, nothing } from "./declare.ts";

export const APPROVAL_ACTS = ["submit", "withdraw", "approve", "sendBack"] as const;
export type ApprovalAct = (typeof APPROVAL_ACTS)[number];

export class ApprovalBody {
  @IsIn(APPROVAL_ACTS) act!: ApprovalAct;
  /** The version it is about, as it was seen. */
  @Matches(VERSION) version!: string;
  /** What is to be known; sending back needs one. */
  @IsString() @MaxLength(LIMITS.note) note!: string;
}

/** A version that was given in. */
export interface Submission {
  version: string;
  by: string;
  at: string;
  note: string;
  /** Null: it waits. */
  answer: "approved" | "sentBack" | null;
  answeredBy: string;
  answeredAt: string | null;
  answerNote: string;
}

/** How a page stands that needs approval. */
export interface Approval {
  submission: Submission | null;
  /** The newest approved version that readers do not get yet. */
  approved: string | null;
  mayApprove: boolean;
  /** How many others may approve what is new; their names, as far as the asker may know them. */
  able: number;
  ableNames: string[];
  /** Nobody else is able: a site keeper publishes with a reason. */
  withReason: boolean;
}

export const answerApproval = declare({
  method: "POST",
  path: "/api/pages/{id}/approval",
  who: "signedIn",
  says: "Gives a version in for approval, takes it out again, approves it, or sends it back.",
  body: ApprovalBody,
  answer: nothing,
});
