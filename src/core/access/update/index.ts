/** The index after a change, made from the index before it. */
export { isBeside, retitle, update } from "./update.ts";
