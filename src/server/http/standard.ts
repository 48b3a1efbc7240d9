/**
 * The wrapper of what programs call (`/access/v1/`): a token with the scope, or a signed-in site keeper. Fields that are
 * not known are let by, as open standards ask; everything else is as in `endpoint.ts`.
 */
import type { APIContext, APIRoute } from "astro";
import type { ClassConstructor } from "class-transformer";
import type { TokenScope } from "../../contracts/tokens.ts";
import { accessNow, keepsSite } from "../access/current.ts";
import { scopesOfToken } from "../services/tokens.ts";
import { answerTrouble, checkOrigin, type Declared, json, readCall } from "./endpoint.ts";
import { refused, Trouble } from "./trouble.ts";

interface Declaration<B, Q> {
  scope: TokenScope;
  body?: ClassConstructor<B>;
  query?: ClassConstructor<Q>;
  handle(call: { body: B; query: Q }): Promise<unknown>;
}

async function checkScope(scope: TokenScope, { request, locals }: APIContext): Promise<void> {
  const [kind, token] = (request.headers.get("authorization") ?? "").split(" ");
  if (kind && kind.toLowerCase() === "bearer" && token) {
    const scopes = await scopesOfToken(token);
    if (!scopes) throw new Trouble(401, "token", "This token is not known, is over, or was withdrawn.");
    if (!scopes.includes(scope)) throw refused(`This token does not reach this far: it needs the scope "${scope}".`);
    return;
  }
  if (!locals.me) throw new Trouble(401, "token", `Send a token with the scope "${scope}", as in "Authorization: Bearer …".`);
  checkOrigin(request);
  if (!keepsSite(await accessNow(), locals.me.id)) throw refused("This is for site keepers, and for programs with a token.");
}

/** Makes an Astro endpoint of a declaration. A request id that comes in goes out again. */
export function standard<B extends object = object, Q extends object = object>(declaration: Declaration<B, Q>): APIRoute {
  const answer = async (context: APIContext): Promise<Response> => {
    try {
      await checkScope(declaration.scope, context);
      const result = await declaration.handle(await readCall(declaration, context, "lenient"));
      return result instanceof Response ? result : json(result);
    } catch (error) {
      const refusal = answerTrouble(error);
      if (refusal.status === 401) refusal.headers.set("www-authenticate", 'Bearer realm="tesoro"');
      return refusal;
    }
  };
  const route = async (context: APIContext): Promise<Response> => {
    const response = await answer(context);
    const id = context.request.headers.get("x-request-id");
    if (id && id.length <= 200) response.headers.set("x-request-id", id);
    return response;
  };
  const { scope, body, query } = declaration;
  return Object.assign(route, { declared: { access: { scope }, body, query } satisfies Declared });
}
