/** What can be done about long work, wherever it is shown: stopped, gone on with, all of it taken back. */
import { useMutation } from "@tanstack/react-query";
import { goOnWithJob, stopJob, takeBackJob } from "../../contracts/jobs.ts";
import { hasWords } from "../../core/words.ts";
import { ask, queries } from "../shared/api.ts";

export type JobAct = "stop" | "goOn" | "back";

/** `reason`: for taking back, where a pledge asks for one. */
export function useJobActs(id: string, onDone: (act: JobAct) => void, reason = "") {
  const params = { id };
  return useMutation({
    mutationFn: (act: JobAct): Promise<unknown> =>
      act === "stop"
        ? ask(stopJob, { params })
        : act === "goOn"
          ? ask(goOnWithJob, { params })
          : ask(takeBackJob, { params, body: { note: "", ...(hasWords(reason) ? { reason } : {}) } }),
    onSuccess: (_, act) => onDone(act),
    onSettled: () => queries.invalidateQueries(),
  });
}
