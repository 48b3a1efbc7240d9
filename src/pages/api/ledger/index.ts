import { readLedger as contract } from "../../../contracts/ledger.ts";
import { serve } from "../../../server/http/endpoint.ts";
import { readLedger } from "../../../server/services/ledger/ledgerView.ts";

export const GET = serve(contract, ({ query, me }) => readLedger(me, query));
