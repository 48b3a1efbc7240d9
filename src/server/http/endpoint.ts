/**
 * The one wrapper every JSON endpoint goes through: origin, who asks, the endpoint's declared policy, validation of
 * what comes in, one error shape for what goes out. What somebody may do to a particular place is decided in the
 * services, inside the transaction that acts.
 */
import type { APIContext, APIRoute } from "astro";
import { type ClassConstructor, plainToInstance } from "class-transformer";
import { type ValidationError, validate } from "class-validator";
import { badRequest, refused, Trouble } from "./trouble.ts";

/** Who may call an endpoint at all. */
export type Policy = "anybody" | "signedIn" | "member";

export interface Call<B, Q> {
  body: B;
  query: Q;
  /** Id of the person who asks, or null for the public. */
  me: string | null;
  params: Record<string, string | undefined>;
  context: APIContext;
}

/** What an endpoint says of itself, for the description of the interfaces. */
export interface Declared {
  access: { policy: Policy } | { scope: string };
  body?: ClassConstructor<object> | undefined;
  query?: ClassConstructor<object> | undefined;
}

interface Declaration<B, Q> {
  policy: Policy;
  body?: ClassConstructor<B>;
  query?: ClassConstructor<Q>;
  handle(call: Call<B, Q>): Promise<unknown>;
}

const LARGEST_BODY = 4_000_000;

const describe = (errors: ValidationError[], above = ""): { field: string; message: string }[] =>
  errors.flatMap((error) => {
    const field = above + error.property;
    const own = Object.values(error.constraints ?? {}).map((message) => ({ field, message }));
    return [...own, ...describe(error.children ?? [], `${field}.`)];
  });

/** Checks a value against a class; `lenient` lets fields by that are not known, and drops them. */
export async function checkShape<T extends object>(
  type: ClassConstructor<T>,
  value: unknown,
  strictness: "strict" | "lenient" = "strict",
): Promise<T> {
  if (typeof value !== "object" || value === null || Array.isArray(value)) throw badRequest("The request must be a JSON object.");
  const instance = plainToInstance(type, value);
  const errors = await validate(instance, { whitelist: true, forbidNonWhitelisted: strictness === "strict", forbidUnknownValues: false });
  if (errors.length > 0) {
    const fields = describe(errors);
    throw badRequest(`The request is not as it should be: ${fields.map((it) => it.message).join("; ")}.`, fields);
  }
  // Plain objects from here on: the core compares and stores them.
  return JSON.parse(JSON.stringify(instance)) as T;
}

async function readBody(request: Request): Promise<unknown> {
  const text = await request.text();
  if (text.length > LARGEST_BODY) throw new Trouble(413, "tooLarge", `The request is larger than ${LARGEST_BODY} characters.`);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw badRequest("The request is not valid JSON.");
  }
  checkTexts(value, 0);
  return value;
}

/** Deeper than this nothing goes that any endpoint takes; page bodies have a limit of their own within it. */
const DEEPEST = 100;

/** Refuses texts that cannot be stored as they are (NUL, halves of characters), and nesting without end. */
function checkTexts(value: unknown, depth: number): void {
  if (depth > DEEPEST) throw badRequest(`The request is nested deeper than ${DEEPEST}.`);
  if (typeof value === "string") {
    if (value.includes("\u0000") || !isWellFormed(value)) throw badRequest("The request holds a character that is none.");
  } else if (typeof value === "object" && value !== null)
    for (const [key, it] of Object.entries(value)) {
      // Names that every object has mean something to the language, not to us.
      if (key in Object.prototype) throw badRequest(`The request has a field "${key}", which no endpoint takes.`);
      checkTexts(key, depth + 1);
      checkTexts(it, depth + 1);
    }
}

/** Whether no half of a character stands alone. */
const isWellFormed = (text: string): boolean => !/\p{Surrogate}/u.test(text);

function checkPolicy(policy: Policy, { locals }: APIContext): void {
  if (policy === "anybody") return;
  if (!locals.me) throw new Trouble(401, "signIn", "Sign in first.");
  if (policy === "member" && locals.me.kind !== "member") throw refused("This is for members.");
}

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

/** A change must come from a page of this site: of the address it is known by, or of the host the request names. */
export function checkOrigin(request: Request): void {
  if (request.method === "GET" || request.method === "HEAD") return;
  const origin = request.headers.get("origin") ?? "";
  const host = URL.canParse(origin) ? new URL(origin).host : "";
  const own = origin === process.env.TESORO_ORIGIN || (host !== "" && host === request.headers.get("host"));
  if (!own) throw refused("This request does not come from a page of this site.");
}

export const json = (value: unknown, status = 200): Response =>
  new Response(JSON.stringify(value ?? {}), {
    status,
    headers: { "content-type": "application/json; charset=utf-8", "cache-control": "no-store" },
  });

export function answerTrouble(error: unknown): Response {
  if (error instanceof Trouble) return json({ error: { code: error.code, message: error.message, details: error.details } }, error.status);
  console.error(error);
  return json(
    { error: { code: "broken", message: "Something broke on the server. Nothing was changed. Try again, or tell the site keeper." } },
    500,
  );
}

/** What comes in, checked against the classes an endpoint declares; queries are always strict. */
export async function readCall<B extends object, Q extends object>(
  { query, body }: { query?: ClassConstructor<Q>; body?: ClassConstructor<B> },
  { url, request }: APIContext,
  strictness: "strict" | "lenient",
): Promise<{ query: Q; body: B }> {
  return {
    query: query ? await checkShape(query, Object.fromEntries(url.searchParams)) : ({} as Q),
    body: body ? await checkShape(body, await readBody(request), strictness) : ({} as B),
  };
}

/** Makes an Astro endpoint of a declaration. */
export function endpoint<B extends object = object, Q extends object = object>(declaration: Declaration<B, Q>): APIRoute {
  const route = async (context: APIContext): Promise<Response> => {
    try {
      checkOrigin(context.request);
      checkPolicy(declaration.policy, context);
      checkSamePerson(context);
      const { query, body } = await readCall(declaration, context, "strict");
      const me = context.locals.me?.id ?? null;
      const answer = await declaration.handle({ body, query, me, params: context.params, context });
      return answer instanceof Response ? answer : json(answer);
    } catch (error) {
      return answerTrouble(error);
    }
  };
  const { policy, body, query } = declaration;
  return Object.assign(route, { declared: { access: { policy }, body, query } satisfies Declared });
}
