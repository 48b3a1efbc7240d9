/** The ledger's register of acts: how each is called, what it touches, whether it can be taken back. */
export {
  bringsWhole,
  canBeTakenBack,
  LEDGER_ACTS,
  type LedgerAct,
  labelOf,
  namesAct,
  retitles,
  type Touches,
  touchesOf,
} from "./register.ts";
