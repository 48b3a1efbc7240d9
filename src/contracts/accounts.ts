/** Signing in and out. */
import { declare, file, json } from "./declare.ts";
import type { HandedOn } from "./inviting.ts";
import "reflect-metadata";
import { IsEmail, IsIn, IsString, Matches, MaxLength, MinLength } from "class-validator";

export class SignInBody {
  @IsEmail() email!: string;
  @IsString() @MinLength(1) @MaxLength(200) password!: string;
}

export class DemoSignInBody {
  @IsString() @MaxLength(64) person!: string;
}

export const signOut = declare({
  method: "POST",
  path: "/sign-out",
  who: "anybody",
  says: "Ends the session, and leads to the front door.",
  answer: file("text/html"),
});

export class AddressBody {
  @IsEmail() @MaxLength(200) email!: string;
}

export class NewPasswordBody {
  @IsString() @MinLength(1) @MaxLength(1000) password!: string;
}

export class ChangePasswordBody {
  @IsString() @MinLength(1) @MaxLength(1000) before!: string;
  @IsString() @MinLength(1) @MaxLength(1000) password!: string;
}

export class EndSessionBody {
  /** One of them by its id, or all others. */
  @IsString() @MaxLength(64) end!: string;
}

/** How notices come by mail: each at once, all of a day together from some hour on, or not at all. */
export const MAIL_HOWS = ["atOnce", "daily", "never"] as const;
export type MailHow = (typeof MAIL_HOWS)[number];

export class MailWishBody {
  @IsIn(MAIL_HOWS) how!: MailHow;
  @Matches(/^([01]?\d|2[0-3])$/, { message: "$property must be an hour of the day, 0 to 23" }) hour!: string;
}

export const askForNewPassword = declare({
  method: "POST",
  path: "/api/people/{id}/new-password",
  who: "member",
  says: "Asks somebody to choose a new password; in the ledger, and told to them.",
  answer: json<HandedOn>("HandedOn"),
});
