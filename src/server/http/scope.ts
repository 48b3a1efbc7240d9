/** Who may ask what is for programs: a token with the scope, or a signed-in site keeper. */
import type { APIContext } from "astro";
import type { TokenScope } from "../../contracts/tokens.ts";
import { accessNow, need, subjectFor } from "../access/current.ts";
import { scopesOfToken } from "../services/house/tokens.ts";
import { refused, Trouble } from "../trouble.ts";
import { bearsToken } from "./origin.ts";

export async function checkScope(scope: TokenScope, { request, locals }: APIContext): Promise<void> {
  if (bearsToken(request)) {
    const [, token = ""] = (request.headers.get("authorization") ?? "").split(/\s+/);
    const scopes = await scopesOfToken(token);
    if (!scopes) throw new Trouble(401, "token", "This token is not known, is over, or was withdrawn.");
    if (!scopes.includes(scope)) throw refused(`This token does not reach this far: it needs the scope "${scope}".`);
    return;
  }
  if (!locals.me) throw new Trouble(401, "token", `Send a token with the scope "${scope}", as in "Authorization: Bearer …".`);
  const access = await accessNow();
  need(access, subjectFor(access, locals.me.id), "askByProgram");
}
