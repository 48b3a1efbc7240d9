/**
 * The one wrapper every endpoint goes through: what it declares of itself (`contracts/`), who asks, validation of what comes
 * in, one error shape for what goes out. What somebody may do to a particular place is decided in the services, inside the
 * transaction that acts.
 */
import type { APIContext, APIRoute } from "astro";
import type { AnyContract, Contract, Params } from "../../contracts/declare.ts";
import { noteTrouble } from "../log.ts";
import { notThere, refused, Trouble } from "../trouble.ts";
import { canName, readJson, readQuery } from "./border.ts";
import { checkScope } from "./scope.ts";
import { checkShape } from "./shape.ts";

export interface Call<P extends string, B, Q> {
  body: B;
  query: Q;
  params: Params<P>;
  /** Id of the person who asks; empty only where an endpoint is open to anybody, or to programs. */
  me: string;
  context: APIContext;
}

type Answered<A> = A | Response | undefined;

/** Refuses what a page asks that was made for somebody else than who is signed in by now. */
function checkSamePerson({ request, locals }: APIContext): void {
  const made = request.headers.get("tesoro-for");
  if (!made || !locals.me || made === locals.me.id) return;
  throw new Trouble(
    409,
    "otherPerson",
    `On this browser ${locals.me.name} is signed in now; this page was opened by somebody else. Nothing was done, and what you typed is kept. Sign in again as yourself to go on.`,
  );
}

/** Refuses whoever may not call an endpoint at all. */
async function checkWho({ who }: AnyContract, context: APIContext): Promise<void> {
  if (typeof who === "object") return checkScope(who.scope, context);
  const { me } = context.locals;
  if (who !== "anybody" && !me) throw new Trouble(401, "signIn", "Sign in first.");
  if (who === "member" && me?.kind !== "member") throw refused("This is for members.");
  checkSamePerson(context);
}

export const json = (value: unknown, status = 200): Response =>
  new Response(JSON.stringify(value ?? {}), {
    status,
    headers: { "content-type": "application/json; charset=utf-8", "cache-control": "no-store" },
  });

export function answerTrouble(error: unknown): Response {
  if (error instanceof Trouble) return json({ error: { code: error.code, message: error.message, details: error.details } }, error.status);
  noteTrouble("A request", error);
  return json(
    { error: { code: "broken", message: "Something broke on the server. Nothing was changed. Try again, or tell the site keeper." } },
    500,
  );
}

/** Bodies of programs may hold more than is known here, as open standards ask; addresses never do. */
const strictnessOf = ({ who }: AnyContract): "strict" | "lenient" => (typeof who === "object" ? "lenient" : "strict");

async function answer(contract: AnyContract, handle: (call: Call<string, object, object>) => Promise<unknown>, context: APIContext) {
  await checkWho(contract, context);
  if (!canName(context.params)) throw notThere();
  const result = await handle({
    query: contract.query ? await checkShape(contract.query, readQuery(context.url)) : {},
    body: contract.body ? await checkShape(contract.body, await readJson(context.request), strictnessOf(contract)) : {},
    params: context.params,
    me: context.locals.me?.id ?? "",
    context,
  });
  return result instanceof Response ? result : json(result);
}

function refusalOf(contract: AnyContract, error: unknown): Response {
  const refusal = answerTrouble(error);
  if (typeof contract.who === "object" && refusal.status === 401) refusal.headers.set("www-authenticate", 'Bearer realm="tesoro"');
  return refusal;
}

/** Makes an Astro endpoint of a contract. A request id that a program sends goes out again. */
export function serve<P extends string, B extends object, Q extends object, A>(
  contract: Contract<P, B, Q, A>,
  handle: (call: Call<P, B, Q>) => Promise<Answered<A>>,
): APIRoute {
  const route = async (context: APIContext): Promise<Response> => {
    let response: Response;
    try {
      response = await answer(contract, handle as never, context);
    } catch (error) {
      response = refusalOf(contract, error);
    }
    const id = context.request.headers.get("x-request-id");
    if (typeof contract.who === "object" && id && id.length <= 200) response.headers.set("x-request-id", id);
    return response;
  };
  return Object.assign(route, { contract });
}
