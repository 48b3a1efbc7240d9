import { LedgerQuery } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { readLedger } from "../../../server/services/ledgerView.ts";

export const GET = endpoint({ policy: "member", query: LedgerQuery, handle: ({ query, me }) => readLedger(me as string, query) });
