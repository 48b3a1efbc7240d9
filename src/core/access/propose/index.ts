/** From wishes to rules (section 12). */
export { type Candidate, type PlacedWish, type Proposal, propose, type Weight } from "./propose.ts";
export { coverage, type Wish } from "./wishes.ts";
