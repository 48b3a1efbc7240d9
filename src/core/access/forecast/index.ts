/** What changes by itself in the time to come, and what that does to whom. */
export { type Coming, comings, rippling, type Scheduled } from "./forecast.ts";
