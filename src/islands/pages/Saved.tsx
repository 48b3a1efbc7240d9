/** Filters by name: opened, saved for oneself or for the space that is filtered by, dropped; and the tags of the site. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { Bookmark, X } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { deleteFilter, listFilters, saveFilter } from "../../contracts/filters.ts";
import { TextField } from "../../ui/TextField.tsx";
import { ask, queries } from "../shared/api.ts";
import { addressOf, type PagesState } from "./address.ts";
import styles from "./pages.module.css";

export function Saved({ state, onOpen }: { state: PagesState; onOpen(address: string): void }) {
  const { data } = useQuery({ queryKey: ["filters"], queryFn: () => ask(listFilters) });
  const [name, setName] = useState("");
  const again = () => queries.invalidateQueries({ queryKey: ["filters"] });
  const save = useMutation({
    mutationFn: (space: string) => {
      const address = addressOf({ ...state, place: null });
      return ask(saveFilter, { body: { name, address: address.startsWith("?") ? address : "?", ...(space ? { space } : {}) } });
    },
    onSuccess: () => {
      setName("");
      return again();
    },
  });
  const drop = useMutation({ mutationFn: (id: string) => ask(deleteFilter, { params: { id } }), onSuccess: again });
  const error = save.error ?? drop.error;
  return (
    <Popover.Root>
      <Popover.Trigger className="button plain">
        <Bookmark size={14} aria-hidden="true" /> Filters
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="end" sideOffset={4}>
          {data?.filters.length === 0 && <p className="soft">None has a name yet. Give this one a name to come back to it.</p>}
          <ul className={styles.options}>
            {data?.filters.map((it) => (
              <li key={it.id} className={styles.saved}>
                <button type="button" className="button plain" onClick={() => onOpen(it.address)}>
                  {it.name}
                  {it.space !== null && <small> for {it.space}</small>}
                </button>
                {it.mayDelete && (
                  <button
                    type="button"
                    className="button plain"
                    aria-label={`Drop the filter ${it.name}`}
                    onClick={() => drop.mutate(it.id)}
                  >
                    <X size={12} />
                  </button>
                )}
              </li>
            ))}
          </ul>
          <TextField label="Save this filter as" value={name} onChange={setName} />
          <div className="acts">
            <button type="button" className="button" disabled={name.trim() === "" || save.isPending} onClick={() => save.mutate("")}>
              For me
            </button>
            {state.space !== "" && (
              <button
                type="button"
                className="button"
                disabled={name.trim() === "" || save.isPending}
                onClick={() => save.mutate(state.space)}
              >
                For this space
              </button>
            )}
          </div>
          {error && (
            <p className="notice bad" role="alert">
              {error.message}
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
