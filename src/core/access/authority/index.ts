/** Who may make which change (section 6a): the acts, what stands over all of them, and stepping in. */
export { type Act, may, type Standing, TABLE } from "./acts.ts";
export type { Guests } from "./editActs.ts";
export type { Refusal } from "./judge.ts";
export { judgeChange, refusedActs, type Verdict } from "./policy.ts";
export { isSiteKeeper, standingAt } from "./standing.ts";
export { mayStepIn, opensByStepIn, STEP_IN_MINUTES, type StepIn } from "./steppingIn.ts";
