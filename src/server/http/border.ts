/**
 * What every request must be before anything looks into it: of a size, whole in time, and made of characters, numbers and
 * depths that everything behind can hold and store. Checked once, for all endpoints and forms.
 */
import { badRequest, Trouble } from "../trouble.ts";

/** Bytes of a JSON body, and of a form: there nobody has signed in yet. */
export const LARGEST_BODY = 4_000_000;
export const LARGEST_FORM = 20_000;
const LONGEST_WAIT = 15_000;
/** Deeper than this nothing goes that any endpoint takes; page bodies have a limit of their own within it. */
const DEEPEST = 100;
/** Values in a JSON body, names included; each costs a little on every way it goes. */
const MOST_VALUES = 150_000;
/** Fields of a thing. */
const MOST_FIELDS = 500;
/** Names in an address, and in a form. */
const MOST_NAMES = 60;
/** Beyond this nothing in an address is looked up. */
const LONGEST_PARAMETER = 200;
/** No field and no name is longer: a refusal says it again, with what is wrong with it. */
const LONGEST_NAME = 200;

const tooLarge = (most: number): Trouble =>
  new Trouble(413, "tooLarge", `The request is larger than ${most.toLocaleString("en")} bytes. Nothing of it was taken.`);
const tooSlow = (): Trouble => new Trouble(408, "tooSlow", "The request did not arrive in time. Nothing of it was taken; try again.");

/** Reads a body as long as it keeps within a limit, and no further; counts bytes as they come. */
async function readBytes(request: Request, most: number): Promise<Uint8Array> {
  if (Number(request.headers.get("content-length") ?? 0) > most) throw tooLarge(most);
  if (!request.body) return new Uint8Array();
  const reader = request.body.getReader();
  let late = false;
  const timer = setTimeout(() => {
    late = true;
    void reader.cancel().catch(() => {});
  }, LONGEST_WAIT);
  const chunks: Uint8Array[] = [];
  let size = 0;
  try {
    for (let next = await reader.read(); !next.done; next = await reader.read()) {
      size += next.value.byteLength;
      if (size > most) {
        void reader.cancel().catch(() => {});
        throw tooLarge(most);
      }
      chunks.push(next.value);
    }
  } finally {
    clearTimeout(timer);
  }
  if (late) throw tooSlow();
  return Buffer.concat(chunks);
}

async function readText(request: Request, most: number): Promise<string> {
  const bytes = await readBytes(request, most);
  try {
    return new TextDecoder("utf-8", { fatal: true, ignoreBOM: true }).decode(bytes);
  } catch {
    throw badRequest("The request is not valid UTF-8.");
  }
}

/** A JSON body, sound in every text, number and name in it. */
export async function readJson(request: Request): Promise<unknown> {
  const text = await readText(request, LARGEST_BODY);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw badRequest("The request is not valid JSON.");
  }
  checkValue(value);
  return value;
}

/** The fields of a form; of several of one name, the last. */
export async function readForm(request: Request): Promise<Record<string, string>> {
  if (!(request.headers.get("content-type") ?? "").startsWith("application/x-www-form-urlencoded"))
    throw badRequest("The request is not a form as this page sends it.");
  const sent = new URLSearchParams(await readText(request, LARGEST_FORM));
  checkNames(sent);
  const fields = Object.fromEntries(sent);
  checkValue(fields);
  return fields;
}

/** Whether a text can be stored as it is: no NUL, no half of a character. */
const isSound = (text: string): boolean => !text.includes("\u0000") && !/\p{Surrogate}/u.test(text);

/** Refuses texts that cannot be stored as they are, numbers that cannot be counted with, nesting and numbers of values without end. */
function checkValue(value: unknown, depth = 0, counted = { values: 0 }): void {
  if (depth > DEEPEST) throw badRequest(`The request is nested deeper than ${DEEPEST}.`);
  if (++counted.values > MOST_VALUES) throw badRequest(`The request holds more than ${MOST_VALUES.toLocaleString("en")} values.`);
  if (typeof value === "string") {
    if (!isSound(value)) throw badRequest("The request holds a character that is none.");
  } else if (typeof value === "number") {
    if (!Number.isFinite(value) || Math.abs(value) > Number.MAX_SAFE_INTEGER)
      throw badRequest(`The request holds a number beyond ±${Number.MAX_SAFE_INTEGER}.`);
  } else if (Array.isArray(value)) for (const it of value) checkValue(it, depth + 1, counted);
  else if (typeof value === "object" && value !== null) checkFields(value, depth, counted);
}

function checkFields(thing: object, depth: number, counted: { values: number }): void {
  const entries = Object.entries(thing);
  if (entries.length > MOST_FIELDS) throw badRequest(`A thing in the request has more than ${MOST_FIELDS} fields.`);
  for (const [key, it] of entries) {
    if (key.length > LONGEST_NAME) throw badRequest(`A name in the request is longer than ${LONGEST_NAME} characters.`);
    // Names that every object has mean something to the language, not to us.
    if (key in Object.prototype) throw badRequest(`The request has a field "${key}", which no endpoint takes.`);
    checkValue(key, depth + 1, counted);
    checkValue(it, depth + 1, counted);
  }
}

/** Refuses more names than any address or form has. */
function checkNames({ size }: URLSearchParams): void {
  if (size > MOST_NAMES) throw badRequest(`There are more than ${MOST_NAMES} names in the request.`);
}

/** What stands in the address after the question mark. A name given twice is refused: which of the two was meant, nobody knows. */
export function readQuery(url: URL): Record<string, string> {
  checkNames(url.searchParams);
  const fields: Record<string, string> = {};
  for (const [name, value] of url.searchParams) {
    if (Object.hasOwn(fields, name)) throw badRequest(`"${name}" stands in the address more than once.`);
    fields[name] = value;
  }
  checkValue(fields);
  return fields;
}

/** Whether parts of an address can name anything here at all; what cannot is answered like what is not there. */
export const canName = (params: Record<string, string | undefined>): boolean =>
  Object.values(params).every((it) => it === undefined || (it.length <= LONGEST_PARAMETER && isSound(it)));

/** Whether what stands after the question mark of a page's address can be text at all: an endpoint refuses it in words, a page is not there. */
export const canBeAsked = ({ searchParams }: URL): boolean =>
  searchParams.size <= MOST_NAMES && [...searchParams].every(([name, value]) => isSound(name) && isSound(value));

/** A path of this site to lead back to, or the empty text: an address elsewhere would make a page a trampoline. */
export function pathWithin(back: string, origin: string): string {
  // Browsers leave out tabs and line breaks, and read a backslash as a slash.
  if (!back.startsWith("/") || /[\p{C}\p{Z}\\]/u.test(back) || !URL.canParse(back, origin)) return "";
  const url = new URL(back, origin);
  return url.origin === new URL(origin).origin && !url.pathname.startsWith("//") ? url.pathname + url.search + url.hash : "";
}
