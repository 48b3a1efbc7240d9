/** The compiled form of a document: numbers for ids, rule-bearing places linked upwards, places in blocks and rows that share their answers. */
export {
  type AccessIndex,
  below,
  blockAt,
  type CompiledFence,
  type CompiledGrant,
  type CompiledPlace,
  pathOf,
  peopleOf,
  placeOf,
  placesOfPass,
  ruledAbove,
  ruledAt,
  siteOf,
  spaceIdOf,
  subjectOf,
} from "./accessIndex.ts";
export { compile, compilePlace, NO_RULES } from "./compile.ts";
export { endsAfter, endsAround, peopleEndsOf, windowIn } from "./instants.ts";
export { Numbering } from "./numbering.ts";
export { Quick, STRIDE_BITS } from "./quick.ts";
export { type Birth, type Block, gatherRows, keyBeforeLeaving, ownerGateOf, type Row, rowKey, rowSign, type Tables } from "./rows.ts";
export {
  ACCOUNTS,
  type Cast,
  type CompiledSubject,
  compilePass,
  compilePerson,
  groupsAbove,
  isActive,
  MEMBERS,
  PUBLIC,
  type SubjectClass,
} from "./subjects.ts";
