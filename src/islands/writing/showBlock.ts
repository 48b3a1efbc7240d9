/** Goes to the place in the text that an error names by its path, as in `content[3].content[0]`. */
import type { Editor } from "@tiptap/core";

export function showBlock(editor: Editor, path: string): void {
  let node = editor.state.doc;
  let nth = 0;
  for (const [, number] of path.matchAll(/content\[(\d+)\]/g)) {
    const index = Number(number);
    if (index >= node.childCount) break;
    for (let i = 0; i < index; i++) nth += node.child(i).nodeSize;
    node = node.child(index);
    if (node.isText) break;
    nth += 1;
  }
  editor.chain().focus().setTextSelection(nth).scrollIntoView().run();
}
