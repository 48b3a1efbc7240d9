import { Download } from "lucide-react";
import { Popover } from "radix-ui";
import { filterOf, type PagesState } from "./address.ts";
import styles from "./pages.module.css";

const FORMATS = { csv: "CSV", xlsx: "Worksheet", json: "JSON" } as const;

/** What fits the filter, as a file. */
export function Exporting({ state }: { state: PagesState }) {
  const query = (format: string) => new URLSearchParams({ ...(filterOf(state) as Record<string, string>), format });
  return (
    <Popover.Root>
      <Popover.Trigger className="button plain">
        <Download size={14} aria-hidden="true" /> Export
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="end" sideOffset={4}>
          <p className="soft">All pages that fit, also those not on the screen.</p>
          <ul className={styles.options}>
            {Object.entries(FORMATS).map(([format, name]) => (
              <li key={format}>
                <a className="button plain" href={`/api/pages/export?${query(format)}`} download>
                  {name}
                </a>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
