/** Why (section 7), and rules that do nothing (section 10): as data, and as sentences. */
export { type Explanation, explain, type Source, sourcesOf } from "./explain.ts";
export { type IdleRule, idleRules } from "./idle.ts";
export { idleSentence } from "./idleSentences.ts";
export {
  abilityPhrase,
  cellWords,
  documentNames,
  editSentence,
  explanationText,
  fenceSentence,
  grantSentence,
  type Names,
  pledgeSentence,
  principalName,
  withSentences,
} from "./sentences.ts";
