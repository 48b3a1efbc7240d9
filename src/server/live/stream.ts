/** Server-sent events: one answer that goes on, for as long as whoever asked may know, is there, and there is room. */
import { Trouble } from "../trouble.ts";
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

/** What somebody may know of something, sent at once and whenever it is told that it changed; `read` refuses by throwing. */
export async function streamOf(person: string, about: string, read: () => Promise<unknown>): Promise<Response> {
  // Refused like any other question, before anything is sent.
  const first = await read();
  take(person);
  const encoder = new TextEncoder();
  let stop = () => {};
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      let [busy, again, over] = [false, false, false];
      const send = (text: string) => over || controller.enqueue(encoder.encode(text));
      const look = async () => {
        if (busy) {
          again = true;
          return;
        }
        busy = true;
        do {
          again = false;
          await read().then(
            (it) => send(`data: ${JSON.stringify(it)}\n\n`),
            () => {
              // Not theirs to know any more.
              send("event: gone\ndata: {}\n\n");
              stop();
            },
          );
        } while (again && !over);
        busy = false;
      };
      const unlisten = listenTo(about, () => void look());
      const beat = setInterval(() => send(": still here\n\n"), STILL_HERE);
      const end = setTimeout(() => stop(), LONGEST);
      stop = () => {
        if (over) return;
        over = true;
        unlisten();
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
