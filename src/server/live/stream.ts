/** Server-sent events: one answer that goes on, for as long as whoever asked may know, is there, and there is room. */
import type { OpenSession } from "../accounts/openSession.ts";
import { isOpen } from "../accounts/session.ts";
import { notThere, Trouble } from "../trouble.ts";
import { listenTo } from "./listening.ts";

/** So many streams one person has open, and so many a server. */
const MOST_OF_ONE = 12;
const MOST = 2_000;
const STILL_HERE = 15_000;
/** After so long it ends, and the browser asks anew: under the session of then. */
const LONGEST = 5 * 60_000;

const open = new Map<string, number>();
let all = 0;

function take(person: string): void {
  const own = open.get(person) ?? 0;
  if (own >= MOST_OF_ONE || all >= MOST)
    throw new Trouble(429, "tooMany", "Too many pages are being watched at once. It is asked again by itself.");
  open.set(person, own + 1);
  all++;
}

function give(person: string): void {
  const own = (open.get(person) ?? 1) - 1;
  if (own > 0) open.set(person, own);
  else open.delete(person);
  all--;
}

interface Watcher {
  person: string;
  session: OpenSession | null;
}

/**
 * What somebody may know of something, sent at once and whenever it is told that it changed; `read` refuses by throwing. It
 * ends with the session that opened it.
 */
export async function streamOf({ person, session }: Watcher, about: string, read: () => Promise<unknown>): Promise<Response> {
  if (!session) throw new Trouble(401, "signIn", "Sign in first.");
  // Refused like any other question, before anything is sent.
  const first = await read();
  take(person);
  const readOpen = async () => {
    if (!(await isOpen(session))) throw notThere();
    return read();
  };
  const encoder = new TextEncoder();
  let stop = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      let [busy, again, over] = [false, false, false];
      const send = (text: string) => over || controller.enqueue(encoder.encode(text));
      const gone = () => {
        // Not theirs to know any more.
        send("event: gone\ndata: {}\n\n");
        stop();
      };
      const look = async () => {
        if (busy) {
          again = true;
          return;
        }
        busy = true;
        do {
          again = false;
          await readOpen().then((it) => send(`data: ${JSON.stringify(it)}\n\n`), gone);
        } while (again && !over);
        busy = false;
      };
      // Where the database does not answer, nothing is told either.
      const checkSession = (then = () => {}) =>
        void isOpen(session).then(
          (itIs) => (itIs ? then() : gone()),
          () => {},
        );
      const unlisten = [listenTo(about, () => void look()), listenTo(`session ${session.id}`, () => checkSession())];
      // Of a session that ended while nobody listened, it is seen here.
      const beat = setInterval(() => checkSession(() => send(": still here\n\n")), STILL_HERE);
      const end = setTimeout(() => stop(), Math.min(LONGEST, session.until.getTime() - Date.now()));
      stop = () => {
        if (over) return;
        over = true;
        for (const it of unlisten) it();
        clearInterval(beat);
        clearTimeout(end);
        give(person);
        try {
          controller.close();
        } catch {
          // Whoever listened is gone already.
        }
      };
      send(`retry: 2000\ndata: ${JSON.stringify(first)}\n\n`);
    },
    cancel: () => stop(),
  });
  return new Response(body, {
    headers: { "content-type": "text/event-stream; charset=utf-8", "cache-control": "no-store, no-transform", "x-accel-buffering": "no" },
  });
}
