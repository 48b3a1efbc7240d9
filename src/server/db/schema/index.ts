/** All tables, by feature. */
export * from "./access.ts";
export * from "./accounts.ts";
export * from "./asked.ts";
export * from "./desk.ts";
export * from "./house.ts";
export * from "./ledger.ts";
export * from "./lists.ts";
export * from "./mail.ts";
export * from "./outside.ts";
export * from "./pledges.ts";
export * from "./reading.ts";
export * from "./review.ts";
export * from "./routines.ts";
export * from "./slip.ts";
export * from "./templates.ts";
export * from "./workbench.ts";
export * from "./writing.ts";
