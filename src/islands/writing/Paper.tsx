/** The text that is being written: its tools, its title, itself. */
import { type ClipboardEvent, type PointerEvent, type ReactNode, useMemo } from "react";
import { bodyHtml } from "../../core/content/index.ts";
import { asLine, LIMITS } from "../../core/words.ts";
import { Remaining } from "../../ui/TextField.tsx";
import { actOfClick, actOfPaste, reachByKey } from "./reached.ts";
import { ToolRow } from "./ToolRow.tsx";
import type { Live } from "./useLive.ts";
import type { Writing } from "./useWords.ts";
import styles from "./writing.module.css";

/** The text while its editor has not come: as one reads it. What is done to it is done again once the editor is there. */
function StillText({ live, readOnly }: { live: Live; readOnly: boolean }) {
  const { still, reached, open, problem } = live;
  // What cannot be kept is not taken.
  const off = readOnly || problem !== "";
  // Between blocks a reader's text has line ends, which would show where spaces are kept as they are.
  const html = useMemo(() => still.content.map((block) => bodyHtml({ schema: 1, content: [block] }, (id) => `#${id}`)).join(""), [still]);
  const reach = {
    onFocus: () => {
      reached.focus = true;
    },
    onBlur: () => {
      reached.focus = false;
    },
    onPointerDown: ({ clientX, clientY }: PointerEvent) => open(actOfClick(clientX, clientY)),
    onPaste: (event: ClipboardEvent) => {
      open(actOfPaste(event.clipboardData));
      live.noted(true);
    },
  };
  return (
    <div
      className="tiptap prose"
      role="textbox"
      tabIndex={0}
      aria-label="Text of the page"
      aria-multiline
      aria-readonly={off}
      data-still
      data-home
      dangerouslySetInnerHTML={{ __html: html }}
      onClick={(event) => event.preventDefault()}
      onKeyDown={(event) => {
        if (off || !reachByKey(reached, event)) return;
        event.preventDefault();
        live.noted(false);
      }}
      {...(off ? {} : reach)}
    />
  );
}

/** The tools while the editor has not come: the one that is pressed does its work once it has. */
function StillTools({ live: { reached, open } }: { live: Live }) {
  return (
    <ToolRow
      onReach={(tool) => {
        reached.tool = tool;
      }}
      onPress={() => {
        reached.press = true;
        open();
      }}
    />
  );
}

/** `children`: what stands under the tools. */
export function Paper({ writing, children }: { writing: Writing; children?: ReactNode }) {
  const { live, readOnly } = writing;
  const { parts, editor } = live;
  const open = readOnly ? undefined : () => live.open();
  return (
    <div className={styles.paper} role="group" aria-label="Title and text" onPointerEnter={open} onFocus={open}>
      <div>
        {!readOnly && (parts && editor ? <parts.Toolbar editor={editor} reached={live.reached} /> : <StillTools live={live} />)}
        {children}
      </div>
      <div className={styles.text}>
        <textarea
          className={styles.title}
          aria-label="Title"
          rows={1}
          dir="auto"
          readOnly={readOnly}
          value={writing.title}
          onChange={(event) => writing.setTitle(asLine(event.target.value))}
        />
        <Remaining value={writing.title} most={LIMITS.title} />
        {live.problem && (
          <p className="notice bad" role="alert">
            {live.problem}
          </p>
        )}
        {parts ? <parts.LiveText live={live} readOnly={readOnly} /> : <StillText live={live} readOnly={readOnly} />}
      </div>
    </div>
  );
}
