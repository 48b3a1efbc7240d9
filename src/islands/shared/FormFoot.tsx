/** The end of a form that opened where somebody asked for it: what it does, and leaving it. */
interface Props {
  act: string;
  /** Why it cannot be done yet; empty where it can. */
  off: string;
  onLeave(): void;
}

export const FormFoot = ({ act, off, onLeave }: Props) => (
  <span className="acts">
    <button type="submit" className="button go" aria-disabled={off !== ""} title={off || undefined}>
      {act}
    </button>
    <button type="button" className="button plain" onClick={onLeave}>
      Leave it
    </button>
  </span>
);
