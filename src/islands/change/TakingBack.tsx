/** Taking an entry of the ledger back: what that would do today is looked at first, then it is done. */

import { useMutation } from "@tanstack/react-query";
import { Undo2 } from "lucide-react";
import { useEffect, useRef } from "react";
import { previewTakeBack, takeBack } from "../../contracts/ledger.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import { ChangeSheet } from "./ChangeSheet.tsx";
import { useStaged } from "./staged.ts";
import { tray } from "./store.ts";

export function TakingBack({ seq, onDone }: { seq: number; onDone(): void }) {
  const params = { seq: String(seq) };
  const look = useMutation({ mutationFn: () => ask(previewTakeBack, { params }) });
  const staged = useStaged({
    preview: look.data ?? null,
    apply: (acting) => ask(takeBack, { params, body: acting }),
    onDone: async () => {
      tray.dismiss();
      say(`Entry ${seq} was taken back.`);
      await queries.invalidateQueries();
      onDone();
    },
    again: () => look.mutate(),
  });
  const sheet = useRef<HTMLElement>(null);
  const looked = look.data !== undefined;
  // The button that was pressed is gone: one goes on at the sheet.
  useEffect(() => {
    if (looked) sheet.current?.focus();
  }, [looked]);
  if (!looked) {
    return (
      <>
        <button type="button" className="button" disabled={look.isPending} onClick={() => look.mutate()}>
          <Undo2 size={14} aria-hidden="true" /> Take back
        </button>
        {look.error && <p className="notice bad">{look.error.message}</p>}
      </>
    );
  }
  return (
    <section ref={sheet} tabIndex={-1} aria-label={`Taking back entry ${seq}`}>
      <ChangeSheet staged={staged} act="Take back now" leave={{ words: "Leave it", go: () => look.reset() }}>
        <h3>Taking it back would do this today</h3>
      </ChangeSheet>
    </section>
  );
}
