/** Documents and edits from outside (section 11): read, checked, and turned into the edits that lead from one to another. */
export { checkDocument, checkEdits } from "./check.ts";
export { differenceOf } from "./diff.ts";
export { parseAccessDocument, parseEdits } from "./parse.ts";
