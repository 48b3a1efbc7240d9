/** The staged change: planned, shown with its ripple, noted, applied. One way for the tray, the publish sheet, the ledger and the import. */

import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Preview } from "../../contracts/change.ts";
import type { ActingBody } from "../../contracts/rules.ts";
import { hasWords, LIMITS } from "../../core/words.ts";
import { ApiError } from "../shared/api.ts";

type Refusals = Preview["refusals"];

/** What is said of a change before it is made. */
export interface Texts {
  note: string;
  reason: string;
}

/** What is in the way of a change. */
export interface InTheWay {
  /** Refusals that stop it. */
  stops: Refusals;
  /** Refusals that a given reason lifts. */
  lifted: Refusals;
  /** Why it cannot be made as it stands; empty where it can. */
  off: string;
}

/** Why a change cannot be made while nobody knows what it would do. */
export const NOT_YET = "The ripple is not worked out yet.";

/** What is in the way of a change that was looked at and not made yet; null: it was not looked at. */
export function inTheWay(preview: Preview | null, { note, reason }: Texts): InTheWay {
  const refusals = preview?.refusals ?? [];
  const lifts = (code: string) => code === "reasonNeeded" || code === "pledge";
  const stops = refusals.filter((it) => !lifts(it.code));
  const lifted = refusals.filter((it) => lifts(it.code));
  const off = !preview
    ? NOT_YET
    : stops.length > 0
      ? "Something is in the way; see above."
      : lifted.length > 0 && !hasWords(reason)
        ? "A reason is needed."
        : note.length > LIMITS.note || reason.length > LIMITS.note
          ? "The note or the reason is too long."
          : "";
  return { stops, lifted, off };
}

/** What goes with an act: the note, the reason where one is given, and what was on the screen. */
export const actingOf = (preview: Preview, { note, reason }: Texts): ActingBody => ({
  note,
  ...(hasWords(reason) ? { reason } : {}),
  seen: preview.seen,
});

/** Refusals as they are told: with the place each is about, each once. */
export const refusalWords = (refusals: Refusals): string[] => [
  ...new Set(refusals.map(({ title, message }) => (title ? `${title}: ${message}` : message))),
];

interface Order<Done> {
  preview: Preview | null;
  apply(acting: ActingBody): Promise<Done>;
  onDone(done: Done): void;
  /** Looks anew at what it would do: rules moved on since it was looked at. */
  again(): void;
}

export interface Staged {
  preview: Preview | null;
  texts: Texts;
  write(texts: Partial<Texts>): void;
  way: InTheWay;
  busy: boolean;
  problem: string;
  apply(): void;
}

/** A change that was looked at and waits for its note and its act. */
export function useStaged<Done>({ preview, apply, onDone, again }: Order<Done>): Staged {
  const [texts, setTexts] = useState<Texts>({ note: "", reason: "" });
  const act = useMutation({
    mutationFn: (it: Preview) => apply(actingOf(it, texts)),
    onSuccess: onDone,
    onError: (error) => {
      if (error instanceof ApiError && error.code === "changedMeanwhile") again();
    },
  });
  return {
    preview,
    texts,
    write: (part) => setTexts({ ...texts, ...part }),
    way: inTheWay(preview, texts),
    busy: act.isPending,
    problem: act.error?.message ?? "",
    apply: () => preview && act.mutate(preview),
  };
}
