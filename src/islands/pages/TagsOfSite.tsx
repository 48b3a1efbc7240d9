/** All tags with their counts; site keepers rename and merge them, as a job. */
import { useQuery } from "@tanstack/react-query";
import { Tags } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { listTags } from "../../contracts/tags.ts";
import { TextField } from "../../ui/TextField.tsx";
import { openMany } from "../jobs/opened.ts";
import { ask } from "../shared/api.ts";
import styles from "./pages.module.css";

export function TagsOfSite({ onTag }: { onTag(tag: string): void }) {
  const [words, setWords] = useState("");
  const [renamed, setRenamed] = useState<{ tag: string; to: string } | null>(null);
  const { data } = useQuery({
    queryKey: ["tags", words],
    queryFn: () => ask(listTags, { query: words ? { q: words } : {} }),
    placeholderData: (before) => before,
  });
  const known = new Set(data?.tags.map(({ tag }) => tag));
  return (
    <Popover.Root>
      <Popover.Trigger className="button plain">
        <Tags size={14} aria-hidden="true" /> Tags
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="end" sideOffset={4}>
          <TextField label={`Find among ${data?.total ?? 0} tags`} value={words} onChange={setWords} />
          <ul className={`${styles.options} ${styles.tags}`}>
            {data?.tags.map(({ tag, count, pledged }) => (
              <li key={tag} className={styles.saved}>
                <button type="button" className="button plain" onClick={() => onTag(tag)}>
                  {tag} <small>{count.toLocaleString("en")}</small>
                </button>
                {data.mayChange && renamed?.tag !== tag && (
                  <button
                    type="button"
                    className="button plain"
                    disabled={pledged}
                    title={pledged ? "A pledge goes by this tag: change the pledge first." : undefined}
                    onClick={() => setRenamed({ tag, to: tag })}
                  >
                    rename
                  </button>
                )}
                {renamed?.tag === tag && (
                  <span className={styles.renaming}>
                    <TextField label="Everywhere to" value={renamed.to} onChange={(to) => setRenamed({ tag, to })} />
                    <button
                      type="button"
                      className="button"
                      disabled={renamed.to.trim() === "" || renamed.to.trim() === tag}
                      onClick={() => openMany({ act: "tag", add: [renamed.to.trim()], remove: [tag], filter: { tag } })}
                    >
                      {known.has(renamed.to.trim()) && renamed.to.trim() !== tag ? "Merge" : "Rename"}
                    </button>
                  </span>
                )}
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
