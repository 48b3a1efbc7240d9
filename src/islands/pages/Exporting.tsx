import { Download } from "lucide-react";
import { Popover } from "radix-ui";
import { exportPages } from "../../contracts/pages.ts";
import { Formats } from "../shared/Formats.tsx";
import { filterOf, type PagesState } from "./address.ts";
import styles from "./pages.module.css";

/** What fits the filter, as a file. */
export function Exporting({ state }: { state: PagesState }) {
  return (
    <Popover.Root>
      <Popover.Trigger className="button plain">
        <Download size={14} aria-hidden="true" /> Export
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className={styles.editing} align="end" sideOffset={4}>
          <p className="soft">All pages that fit, also those not on the screen.</p>
          <p className="acts">
            <Formats of={exportPages} query={filterOf(state) as Record<string, string>} className="button plain" />
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
