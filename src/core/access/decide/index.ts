/** Who can do what where (sections 5 and 6): by walking up a path, and by classes for many questions at once. */
export { decide } from "./decide.ts";
export {
  admits,
  effectiveSet,
  gateOfState,
  givenSet,
  hasOversight,
  oversightFrom,
  ownsAsMember,
  passesUnpublishedGate,
  passReaches,
} from "./evaluate.ts";
export { type MatrixBlock, type MatrixTotals, matrixBlocks, matrixExceptions, matrixTotals } from "./matrix.ts";
export {
  type Cell,
  cellsAfterLeaving,
  cellsInBlock,
  GUEST,
  keptCells,
  MEMBER,
  namedIn,
  OVERSEES,
  PASS_CLASS,
  PUBLIC_CLASS,
  refinedClasses,
  rowCells,
  rowOfPlace,
  SET_OF_CELL,
  tablesAt,
  tellsOfOthers,
  walkedCell,
  windowAround,
} from "./tables.ts";
