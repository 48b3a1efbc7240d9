/** The doors of a demo site as a test goes through them: signed in as whoever it likes, look, apply, take back. */
import type { Edit } from "../../src/core/access/model/index.ts";
import { publication } from "../publication.ts";
import { quickly } from "./quickly.ts";
import { signInDemo } from "./signIn.ts";

export interface Answer {
  status: number;
  text: string;
}

export const statuses = (answers: readonly Answer[]) => answers.map(({ status }) => status).sort();
export const seqOf = (answer: Answer): number => JSON.parse(answer.text).seq;

/** What an answer holds; throws where it is a refusal. */
export function answered(what: string, { status, text }: Answer) {
  if (status !== 200) throw new Error(`${what} was answered ${status}: ${text.slice(0, 300)}`);
  return JSON.parse(text);
}

export interface Draft {
  parent: string;
  title: string;
  body: object;
}

type Ask = (who: string, method: string, path: string, body?: unknown) => Promise<Answer>;

/** A page that somebody starts in a place and writes once. */
export async function writePage(ask: Ask, who: string, { parent, title, body }: Draft): Promise<string> {
  const { id } = answered("Starting a page", await ask(who, "POST", "pages", { parent, as: "page", title }));
  answered("Saving it", await ask(who, "POST", `pages/${id}`, { title, body, base: "0.1", note: "", spent: [] }));
  return id;
}

/** The same, live. */
export async function writeLivePage(ask: Ask, who: string, draft: Draft): Promise<string> {
  const id = await writePage(ask, who, draft);
  const order = publication("0.2");
  const { preview } = answered("Looking at it", await ask(who, "POST", `pages/${id}/publish/look`, order));
  answered("Publishing it", await ask(who, "POST", `pages/${id}/publish`, { ...order, note: "", seen: preview.seen, reason: "A test." }));
  return id;
}

/** Through `base` as one of these people, or as the public. */
export async function doorsOf(base: string, people: readonly string[]) {
  const cookies: Record<string, string> = { public: "" };
  /** `as`: under which name one goes on asking, where somebody has two sessions. */
  const signIn = async (person: string, as = person): Promise<void> => {
    cookies[as] = await signInDemo(base, person);
  };
  for (const person of people) await signIn(person);

  async function ask(who: string, method: string, path: string, body?: unknown): Promise<Answer> {
    const { status, text } = await quickly(`${base}/api/${path}`, {
      method,
      headers: { cookie: cookies[who] ?? "", origin: base, "content-type": "application/json" },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    return { status, text };
  }
  /** A page of the site, as somebody sees it. */
  async function page(who: string, path: string): Promise<Answer> {
    const { status, text } = await quickly(base + path, { headers: { cookie: cookies[who] ?? "" } });
    return { status, text };
  }
  const read = async (who: string, path: string) => JSON.parse((await ask(who, "GET", path)).text);
  const preview = (who: string, ...edits: Edit[]) => ask(who, "POST", "preview", { edits, columns: [] });
  const apply = (who: string, edits: Edit[], seen: string, reason?: string) =>
    ask(who, "POST", "changes", { edits, note: "", seen, ...(reason ? { reason } : {}) });
  /** Looks, then applies what was seen. */
  async function make(who: string, edits: Edit[], reason?: string): Promise<Answer> {
    const looked = await preview(who, ...edits);
    return looked.status === 200 ? apply(who, edits, JSON.parse(looked.text).seen, reason) : looked;
  }
  async function takeBack(who: string, seq: number, reason?: string): Promise<Answer> {
    const looked = await ask(who, "GET", `ledger/${seq}`);
    if (looked.status !== 200) return looked;
    return ask(who, "POST", `ledger/${seq}`, { note: "", seen: JSON.parse(looked.text).seen, ...(reason ? { reason } : {}) });
  }
  const cookieOf = (who: string): string => cookies[who] ?? "";
  return { signIn, cookieOf, ask, page, read, preview, apply, make, takeBack };
}
