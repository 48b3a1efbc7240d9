/** The index after a change, made from the index before it. */
export { retitle, update } from "./update.ts";
