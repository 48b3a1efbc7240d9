/** Where the attacks take place: a served demo with its people signed in, and the truth beside what it answers. */
import { openSite, type TestSite } from "../../cli/testing/site.ts";
import { type AccessDocument, type Edit, instantAt } from "../../src/core/access/model/index.ts";
import { closeDatabase, inSnapshot } from "../../src/server/db/client.ts";
import { loadDocument } from "../../src/server/db/document.ts";
import { type Answer, doorsOf } from "../system/doors.ts";
import { Waits } from "./waits.ts";

/** Who acts: a site keeper, keepers of two spaces, a publisher, a member, a guest; and the public. */
export const CAST = ["ines", "maren", "viktor", "lena", "mei", "dora", "public"] as const;
export type Actor = (typeof CAST)[number];

export interface Stage {
  site: TestSite;
  ask(who: string, method: string, path: string, body?: unknown): Promise<Answer>;
  cookieOf(who: string): string;
  /** A page of the site, as somebody sees it. */
  page(who: string, path: string): Promise<Answer>;
  /** Looks at edits, then makes them. */
  make(who: string, edits: Edit[], reason?: string): Promise<Answer>;
  takeBack(who: string, seq: number, reason?: string): Promise<Answer>;
  signIn(who: string): Promise<void>;
  /** A page or a form of the site, as a browser without a session has it. */
  open(path: string, form?: Record<string, string>): Promise<Answer>;
  /** The rules as they are in the database now. */
  document(): Promise<AccessDocument>;
  /** The rules when the stage was opened. */
  first: AccessDocument;
  waits: Waits;
  close(): Promise<void>;
}

export const now = () => instantAt(Date.now());

export async function openStage(): Promise<Stage> {
  const site = await openSite();
  const doors = await doorsOf(site.base, CAST.slice(0, -1));
  const waits = new Waits(site.base);
  const open = async (path: string, form?: Record<string, string>) => {
    const answer = await fetch(site.base + path, {
      method: form ? "POST" : "GET",
      redirect: "manual",
      headers: { origin: site.base },
      ...(form ? { body: new URLSearchParams(form) } : {}),
    });
    return { status: answer.status, text: await answer.text() };
  };
  const document = () => inSnapshot((tx) => loadDocument(tx));
  return {
    site,
    waits,
    document,
    first: await document(),
    ask: (who, method, path, body) => waits.during(method, `/api/${path}`, () => doors.ask(who, method, path, body)),
    page: doors.page,
    cookieOf: doors.cookieOf,
    make: (who, edits, reason) => waits.during("POST", "/api/changes", () => doors.make(who, edits, reason)),
    takeBack: (who, seq, reason) => waits.during("POST", "/api/ledger/x", () => doors.takeBack(who, seq, reason)),
    signIn: (who) => doors.signIn(who),
    open,
    close: async () => {
      await waits.close();
      await closeDatabase();
      await site.close();
    },
  };
}
