/** The life of a page (lifecycle.md): what a change brings along. The states themselves are in `access/model/states.ts`. */
export { completed, helpersKept } from "./completing.ts";
