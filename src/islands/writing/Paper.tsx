/** The text that is being written: its tools, its title, itself. */
import { EditorContent } from "@tiptap/react";
import type { ReactNode } from "react";
import { LIMITS } from "../../core/words.ts";
import { Remaining } from "../../ui/TextField.tsx";
import { Toolbar } from "./Toolbar.tsx";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

/** `children`: what stands under the tools. */
export function Paper({ writing, children }: { writing: Writing; children?: ReactNode }) {
  if (!writing.editor) return null;
  return (
    <div className={styles.paper}>
      <div>
        {!writing.readOnly && <Toolbar editor={writing.editor} />}
        {children}
      </div>
      <div className={styles.text}>
        <textarea
          className={styles.title}
          aria-label="Title"
          rows={1}
          dir="auto"
          readOnly={writing.readOnly}
          value={writing.title}
          onChange={(event) => writing.setTitle(event.target.value)}
        />
        <Remaining value={writing.title} most={LIMITS.title} />
        <EditorContent editor={writing.editor} />
      </div>
    </div>
  );
}
