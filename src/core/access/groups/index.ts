/** Who is in which group, and what looks wrong with groups. */
export { type GroupNote, type GroupSummary, type Membership, membershipsOf, summarizeGroups } from "./groups.ts";
