// A thread begins without what lets this process read TypeScript: it brings that along, and goes on in `work.ts`.
import { register } from "tsx/esm/api";

register();
await import("./work.ts");
