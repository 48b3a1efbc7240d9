/** Saving a version with its note, wherever words are written: why it is off, and what follows it. */
import { lazy, useState } from "react";
import { LIMITS } from "../../core/words.ts";
import type { Writing } from "./useWords.ts";

// It comes when somebody is about to publish.
export const PublishSheet = lazy(() => import("../publication/PublishSheet.tsx"));

/** `onSaving`, `onSaved`: what else is done before and after. */
export function useSaving(writing: Writing, { onSaving, onSaved }: { onSaving?(): void; onSaved?(): unknown } = {}) {
  const [note, setNote] = useState("");
  const { keeper } = writing;
  const saved = async (work: Promise<string | null>) => {
    onSaving?.();
    const version = await work;
    if (version) {
      setNote("");
      await onSaved?.();
    }
    return version;
  };
  const save = () => saved(writing.save(note));
  return {
    note: { value: note, onChange: setNote, most: LIMITS.note },
    /** Why these words cannot be saved; empty where they can. */
    off: writing.off || (note.length > LIMITS.note ? "The note is too long." : ""),
    save: async () => {
      await writing.settled();
      if (keeper.dirty) await save();
    },
    /** What was typed is saved first; false where that was refused. */
    savedAll: async () => {
      await writing.settled();
      return !keeper.dirty || (await save()) !== null;
    },
    both: { onOver: () => void saved(writing.saveOver(note)), onGoOn: () => void writing.goOnFromTheirs(note) },
  };
}
