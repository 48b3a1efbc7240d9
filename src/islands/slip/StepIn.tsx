import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { stepIn } from "../../contracts/slip.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ask, queries } from "../shared/api.ts";
import styles from "./slip.module.css";

/** Opens a page that an overseer cannot read: with a reason, for an hour, known to its owner. */
export function StepIn({ id }: { id: string }) {
  const [reason, setReason] = useState("");
  const step = useMutation({
    mutationFn: () => ask(stepIn, { params: { id }, body: { reason } }),
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <div className={styles.stepIn}>
      <p>You oversee this page; its text is closed to you. Stepping in opens it for an hour. The ledger and its owner learn of it.</p>
      <TextField label="Reason" value={reason} onChange={setReason} most={LIMITS.note} />
      <button
        type="button"
        className="button"
        disabled={!hasWords(reason) || reason.length > LIMITS.note || step.isPending}
        onClick={() => step.mutate()}
      >
        Step in
      </button>
      {step.error && <p className="notice bad">{step.error.message}</p>}
    </div>
  );
}
