/** Saving a version, and going on to publish it. */
interface SavingProps {
  /** Why there is nothing to save or to publish; empty where there is. */
  saveOff: string;
  publishOff: string;
  publishName: string;
  mayPublish: boolean;
  onSave(): void;
  onPublish(): void;
}

/** A control that is off stays reachable, and says why it is. */
export function Saving({ saveOff, publishOff, publishName, mayPublish, onSave, onPublish }: SavingProps) {
  return (
    <div className="acts">
      <button
        type="button"
        className="button"
        aria-disabled={saveOff !== ""}
        title={saveOff || undefined}
        onClick={() => saveOff || onSave()}
      >
        Save a version
      </button>
      {mayPublish && (
        <button
          type="button"
          className="button go"
          data-publish
          aria-disabled={publishOff !== ""}
          title={publishOff || undefined}
          onClick={() => publishOff || onPublish()}
        >
          {publishName}
        </button>
      )}
    </div>
  );
}
