export { FINDING_KINDS, type FindingKind, type Span } from "./detectors.ts";
export { type Finding, findingsIn, type Looking, lookFor, MOST_IN_PAGE, type Passage, passagesOf } from "./findings.ts";
