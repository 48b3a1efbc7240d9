import { NoQuery } from "../../../contracts/requests.ts";
import { endpoint } from "../../../server/http/endpoint.ts";
import { checkLedger } from "../../../server/services/ledgerView.ts";

export const GET = endpoint({ policy: "member", query: NoQuery, handle: ({ me }) => checkLedger(me as string) });
