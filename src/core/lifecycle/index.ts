/**
 * The life of a page (lifecycle.md): acts and what they come to, what they would break, what comes back how, and what a
 * change brings along. The states themselves are in `access/model/states.ts`.
 */
export {
  ARRIVALS,
  type Arrival,
  actFits,
  actsOn,
  type Below,
  belowOf,
  LIFE_ACTS,
  type LifeAct,
  type LifeActName,
  labelOfAct,
  pastOfAct,
} from "./acts.ts";
export { type Authors, ableToApprove, authorsOfNew, type Written } from "./approval.ts";
export { completed, helpersKept } from "./completing.ts";
export { isErasable } from "./erasing.ts";
export { erasableFrom, type LifeFacts } from "./facts.ts";
export { brokenLinks, type Impact, type ImpactFacts, impactOf, type PageLink, readersOutside } from "./impact.ts";
export { landingCandidates } from "./landings.ts";
export { firstLandings, missingChoices, shownAnew } from "./lawful.ts";
export type { Choice, Misfit, Placing, Plan, Returning } from "./making.ts";
export { assumed, IS_NOW, landed, planAct } from "./plan.ts";
export { type ReadersThere, readersThere } from "./readers.ts";
export { actDone, actTitle, IMPACT_LINES, type ImpactLine, impactSentence, takingBackSentence } from "./sentences.ts";
