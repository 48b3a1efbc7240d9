/**
 * What somebody did to a text before its editor had come: where they clicked, what they typed and pasted, which tool they
 * went to. All of it is done once it has, in the order in which it was done.
 */
import type { Editor } from "@tiptap/core";
import type { ToolName } from "./tools.ts";

export interface Reached {
  /** What is done to the text, one after the other. */
  acts: ((editor: Editor) => void)[];
  /** Whether words are among it. */
  words: boolean;
  /** Whether the text had the focus. */
  focus: boolean;
  /** Where somebody clicked who may not write yet; null where they clicked elsewhere since. */
  place: ((editor: Editor) => void) | null;
  tool: ToolName | null;
  press: boolean;
}

export const nothingReached = (): Reached => ({ acts: [], words: false, focus: false, place: null, tool: null, press: false });

/** Keys that, with Control, move the cursor. */
const MOVES: Record<string, "start" | "end" | "all"> = { End: "end", Home: "start", a: "all" };

/** Takes a key for the text; false for one that is none of the text's. */
export function reachByKey(reached: Reached, event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey">): boolean {
  const { acts } = reached;
  const { key, ctrlKey, metaKey } = event;
  const mod = ctrlKey || metaKey;
  const move = mod ? MOVES[key] : undefined;
  if (move) acts.push((editor) => editor.commands.focus(move));
  else if (mod) return false;
  // Letters that are typed with Alt are letters.
  else if (key.length === 1) acts.push(({ view, state }) => view.dispatch(state.tr.insertText(key)));
  else if (key === "Enter") acts.push((editor) => editor.commands.keyboardShortcut("Enter"));
  else if (key === "Backspace") acts.pop();
  else return false;
  reached.words ||= !move;
  return true;
}

/** What a paste puts in. */
export function actOfPaste(given: DataTransfer): (editor: Editor) => void {
  const [html, text] = [given.getData("text/html"), given.getData("text/plain")];
  return ({ view }) => void (html ? view.pasteHTML(html) : view.pasteText(text));
}

/** Puts the cursor where somebody clicked. */
export const actOfClick =
  (left: number, top: number) =>
  (editor: Editor): void => {
    const at = editor.view.posAtCoords({ left, top });
    if (at) editor.commands.setTextSelection(at.pos);
  };
