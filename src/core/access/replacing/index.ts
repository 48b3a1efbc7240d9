/** Putting one person or group in the place of another wherever rules name it. */
export { EVERYWHERE, grantsNaming, type Reach, replacing } from "./replacing.ts";
