/** The present instant. The core is told of it; nothing there looks at a clock. */
import { type Instant, instantAt } from "../core/access/model/index.ts";

export const presentInstant = (): Instant => instantAt(Date.now());
