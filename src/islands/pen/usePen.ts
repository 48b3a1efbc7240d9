/** Who has the pen of a page, as it changes; picked up where it lies when the page is opened, laid down when it is left. */
import { useEffect, useRef, useState } from "react";
import { actOnPen, type Pen, type PenAct, readPen } from "../../contracts/pen.ts";
import { ApiError, ask } from "../shared/api.ts";

const STAY = 20_000;
/** So often it is asked where no events come. */
const ASK = 10_000;

export interface PenHere {
  /** Null before the first answer. */
  pen: Pen | null;
  /** Whether one may type: one has the pen, or it is not known who does. */
  mine: boolean;
  problem: string;
  act(act: PenAct): void;
}

export function usePen(id: string): PenHere {
  const [pen, setPen] = useState<Pen | null>(null);
  const [problem, setProblem] = useState("");
  const mine = useRef(false);
  // While it is being picked up it is nobody's for a moment. Saying so would push what stands below down and up again, just
  // when somebody who opened the page to press something there goes to it.
  const picking = useRef(true);
  const take = (next: Pen) => {
    if (picking.current && next.holder === null) return;
    mine.current = next.holder?.mine ?? false;
    setPen(next);
  };
  const act = (what: PenAct): Promise<void> =>
    ask(actOnPen, { params: { id }, body: { act: what }, stay: true }).then(
      (next) => {
        setProblem("");
        take(next);
      },
      (error: Error) => {
        // Without the network nobody is told of anything; words are kept all the same.
        if (!(error instanceof ApiError) || error.status !== 0) setProblem(error.message);
      },
    );
  useEffect(() => {
    const look = () => ask(readPen, { params: { id }, stay: true });
    // Picked up where it lies; where somebody has it, this says who; where it cannot be picked up, that it lies there.
    const pickUp = async () => {
      picking.current = true;
      const now = await look();
      if (now.holder?.mine !== false) await act(now.holder ? "stay" : "take");
      picking.current = false;
      if (!mine.current) take(now.holder ? now : await look());
    };
    void pickUp().catch(() => {
      picking.current = false;
    });
    const me = document.documentElement.dataset.me ?? "";
    const events = new EventSource(`/api/pages/${encodeURIComponent(id)}/pen/events?for=${encodeURIComponent(me)}`);
    events.addEventListener("message", ({ data }) => take(JSON.parse(data) as Pen));
    // What the browser gave up on is asked for; and nobody tells of whoever just went away with the pen.
    const poll = setInterval(() => {
      if (events.readyState === EventSource.CLOSED || !mine.current) void look().then(take, () => {});
    }, ASK);
    const stay = setInterval(() => mine.current && act("stay"), STAY);
    const leave = () => {
      if (mine.current) void ask(actOnPen, { params: { id }, body: { act: "lay" }, stay: true, keepalive: true }).catch(() => {});
    };
    window.addEventListener("pagehide", leave);
    return () => {
      events.close();
      clearInterval(poll);
      clearInterval(stay);
      window.removeEventListener("pagehide", leave);
    };
  }, [id]);
  return { pen, mine: pen === null || pen.holder?.mine !== false, problem, act };
}
