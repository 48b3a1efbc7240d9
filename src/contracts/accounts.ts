/** Signing in and out. */
import { declare, file } from "./declare.ts";
import "reflect-metadata";
import { IsEmail, IsString, MaxLength, MinLength } from "class-validator";

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
