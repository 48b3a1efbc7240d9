import { checkLedger as contract } from "../../../contracts/ledger.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { checkLedger } from "../../../server/services/ledger/ledgerView.ts";

export const GET = serve(contract, ({ me }) => checkLedger(me));
