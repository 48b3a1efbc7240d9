/** Copying a page elsewhere, as an own draft. */
import { useMutation } from "@tanstack/react-query";
import { Copy } from "lucide-react";
import { useState } from "react";
import { copyPage } from "../../contracts/life.ts";
import { type Choice, Picker } from "../../ui/Picker.tsx";
import { ask, queries } from "../shared/api.ts";
import { findPlaces } from "../shared/places.ts";
import { say } from "../shared/say.ts";
import styles from "./life.module.css";

export function Copying({ id, onGo }: { id: string; onGo(place: string): void }) {
  const [open, setOpen] = useState(false);
  const [to, setTo] = useState<Choice | null>(null);
  const [below, setBelow] = useState(false);
  const copy = useMutation({
    mutationFn: (into: string) => ask(copyPage, { params: { id }, body: { to: into, below } }),
    onSuccess: async (made) => {
      setOpen(false);
      say(`${made.pages} ${made.pages === 1 ? "page was" : "pages were"} copied.`);
      await queries.invalidateQueries();
      onGo(made.id);
    },
  });
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        <Copy size={14} aria-hidden="true" /> Copy …
      </button>
    );
  return (
    <div className={styles.choice}>
      <Picker label="Into which space or page" chosen={to} find={findPlaces} onChoose={setTo} autoFocus inline />
      <label>
        <input type="checkbox" checked={below} onChange={() => setBelow(!below)} /> with all pages below it that you may read
      </label>
      <div className="acts">
        <button type="button" className="button" disabled={to === null || copy.isPending} onClick={() => to && copy.mutate(to.key)}>
          Copy as your draft
        </button>
        <button type="button" className="button plain" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
      {copy.error && (
        <p className="notice bad" role="alert">
          {copy.error.message}
        </p>
      )}
    </div>
  );
}
