export { type Imagined, imagine } from "./imagine.ts";
