/** Two versions compared by a worker, so that nothing else on the page waits for it. */
import { useEffect, useRef, useState } from "react";
import type { PageBody } from "../../core/content/index.ts";
import type { Compared } from "../../workers/compare/compare.ts";
import type { ComparedAnswer, CompareOrder } from "../../workers/versions.ts";

/** Null while it is being worked out. */
export function useCompared(from: PageBody | undefined, to: PageBody | undefined): Compared | null {
  const [compared, setCompared] = useState<ComparedAnswer | null>(null);
  const worker = useRef<Worker | null>(null);
  const nth = useRef(0);
  useEffect(() => {
    const made = new Worker(new URL("../../workers/versions.ts", import.meta.url), { type: "module" });
    worker.current = made;
    made.addEventListener("message", ({ data }: MessageEvent<ComparedAnswer>) => setCompared(data));
    return () => made.terminate();
  }, []);
  useEffect(() => {
    if (from && to) worker.current?.postMessage({ nth: ++nth.current, from, to } satisfies CompareOrder);
  }, [from, to]);
  // What was asked before belongs to other versions.
  return compared?.nth === nth.current && from && to ? compared : null;
}
