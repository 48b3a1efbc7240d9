/** The present instant. The core is told of it; nothing there looks at a clock. Nor is the database's asked: it may go differently. */
import { type Instant, instantAt } from "../core/access/model/index.ts";

const DAY = 24 * 3_600_000;

export const presentInstant = (): Instant => instantAt(Date.now());

/** The day so many days ago, as reads are counted by day: "2026-11-23", in UTC. */
export const dayBefore = (days: number, at: number = Date.now()): string => new Date(at - days * DAY).toISOString().slice(0, 10);
