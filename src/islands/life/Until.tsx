/** Archiving at a date instead of now. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { schedule } from "../../contracts/writing.ts";
import type { Below } from "../../core/lifecycle/index.ts";
import { DateField } from "../../ui/DateField.tsx";
import { shortDateTime } from "../../ui/dates.ts";
import { ask, queries } from "../shared/api.ts";
import { say } from "../shared/say.ts";
import styles from "./life.module.css";
import { closeAct } from "./opened.ts";

export function Until({ place, below }: { place: string; below: Below | undefined }) {
  const [at, setAt] = useState("");
  const put = useMutation({
    mutationFn: () => {
      const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
      return ask(schedule, {
        params: { id: place },
        body: {
          what: "archive",
          at,
          zone: timeZone,
          note: "",
          version: "0.0",
          keepHelpers: false,
          ...(below === "along" || below === "handUp" ? { below } : {}),
        },
      });
    },
    onSuccess: async () => {
      say(`It is archived by itself on ${shortDateTime(at)}.`);
      closeAct();
      await queries.invalidateQueries();
    },
  });
  return (
    <section className={styles.until}>
      <h3>Or at a date</h3>
      <DateField label="Archived by itself on" value={at} onChange={setAt} as="moment" none="not by itself" ahead />
      <button type="button" className="button" disabled={at === "" || put.isPending} onClick={() => put.mutate()}>
        Schedule
      </button>
      {put.error && (
        <p className="notice bad" role="alert">
          {put.error.message}
        </p>
      )}
    </section>
  );
}
