/** A link that is shown this once, with a way of taking it along. */
import { useState } from "react";
import { say } from "./say.ts";
import styles from "./secret.module.css";

export function Secret({ label, text }: { label: string; text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
      setCopied(true);
      say("Copied.");
    } catch {
      say("It could not be copied: choose it and copy it by hand.");
    }
  };
  return (
    <span className={styles.secret}>
      <input className="field" readOnly aria-label={label} value={text} onFocus={(event) => event.target.select()} />
      <button type="button" className="button" onClick={() => void copy()}>
        {copied ? "Copied" : "Copy"}
      </button>
    </span>
  );
}
