/** The acts a page or space can have done to it by whoever looks, as buttons that open the sheet. */
import { Archive, ArchiveRestore, EyeOff, FolderInput, Trash2, Undo2, X } from "lucide-react";
import { type LifeActName, labelOfAct } from "../../core/lifecycle/index.ts";
import { openAct } from "./opened.ts";

const ICONS: Record<LifeActName, typeof Archive> = {
  takeDown: EyeOff,
  archive: Archive,
  unarchive: ArchiveRestore,
  bin: Trash2,
  restore: Undo2,
  erase: X,
  move: FolderInput,
};

interface Props {
  acts: readonly LifeActName[];
  places: readonly string[];
  /** Why an act is not possible; shown beside it. */
  off?: Partial<Record<LifeActName, string>>;
}

export function ActButtons({ acts, places, off = {} }: Props) {
  return (
    <>
      {acts.map((act) => {
        const Icon = ICONS[act];
        return (
          <button
            key={act}
            type="button"
            className="button"
            data-act={act}
            disabled={off[act] !== undefined}
            title={off[act]}
            onClick={() => openAct({ act, places: [...places] })}
          >
            <Icon size={14} aria-hidden="true" /> {labelOfAct(act)} …
          </button>
        );
      })}
    </>
  );
}
